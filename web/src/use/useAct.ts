import { getCurrentInstance, nextTick, ref } from 'vue'

import { showProblem } from './showProblem'
import { useProblem } from './useProblem'

/** Runs one thing at a time; what went wrong is kept in words until the next try. */
export function useAct() {
  const isBusy = ref(false)
  const { problem, keep } = useProblem()
  const here = getCurrentInstance()

  async function act<T>(work: () => Promise<T>): Promise<T | undefined> {
    if (isBusy.value) return undefined
    isBusy.value = true
    problem.value = null
    try {
      return await work()
    } catch (error) {
      keep(error)
      void nextTick(bringIntoView)
      return undefined
    } finally {
      isBusy.value = false
    }
  }

  /** A field that is not on the screen cannot say what is wrong with it: then the note does. */
  async function bringIntoView(): Promise<void> {
    const said = problem.value
    if (!said || showProblem(here?.proxy?.$el, said.message) || !said.field) return
    problem.value = said.withoutField()
    await nextTick()
    showProblem(here?.proxy?.$el, said.message)
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

  /** What is wrong with one field, as a field shows it. */
  function fault(field: string): string[] {
    return problem.value?.field === field ? [problem.value.message] : []
  }

  return { isBusy, problem, act, read, fault }
}
