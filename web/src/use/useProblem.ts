import { ref } from 'vue'

import { ApiProblem } from '../api/client'
import { useSession } from '../stores/session'

/** What went wrong last, in words. Whoever is not signed in any more is led to the door instead. */
export function useProblem() {
  const problem = ref<ApiProblem | null>(null)
  const session = useSession()

  function keep(error: unknown): void {
    if (!(error instanceof ApiProblem)) throw error
    if (error.status === 401 && error.code === 'sign_in_needed') session.take(null)
    else problem.value = error
  }

  return { problem, keep }
}
