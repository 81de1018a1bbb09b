import { ref } from 'vue'

import { ApiProblem } from '../api/client'
import { useSession } from '../stores/session'
import { inOrder } from './inOrder'

/** Runs one thing at a time; what went wrong is kept in words until the next try. */
export function useAct() {
  const isBusy = ref(false)
  const problem = ref<ApiProblem | null>(null)
  const session = useSession()
  const order = inOrder()

  async function act<T>(work: () => Promise<T>): Promise<T | undefined> {
    if (isBusy.value) return undefined
    isBusy.value = true
    problem.value = null
    try {
      return await work()
    } catch (error) {
      keep(error)
      return undefined
    } finally {
      isBusy.value = false
    }
  }

  /** Like `act`, for what changes nothing: may run beside others, and keeps an earlier problem in view. */
  async function read<T>(work: () => Promise<T>): Promise<T | undefined> {
    try {
      return await work()
    } catch (error) {
      keep(error)
      return undefined
    }
  }

  /** Like `read`, for the one question that is asked anew with each event; see `inOrder`. */
  const newest = <T>(work: () => Promise<T>) => order(() => read(work))

  function keep(error: unknown): void {
    if (!(error instanceof ApiProblem)) throw error
    if (error.status === 401 && error.code === 'sign_in_needed') session.take(null)
    else problem.value = error
  }

  /** What is wrong with one field, as a field shows it. */
  function fault(field: string): string[] {
    return problem.value?.field === field ? [problem.value.message] : []
  }

  return { isBusy, problem, act, read, newest, fault }
}
