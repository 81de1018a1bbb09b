import { ref, shallowRef, type Ref } from 'vue'

import type { ApiProblem } from '../api/client'
import { inOrder } from './inOrder'
import { useProblem } from './useProblem'

/** What `ReadingState` shows of a reading. */
export interface Reading<T = unknown> {
  /** The newest answer; null before the first one. */
  found: Ref<T | null>
  /** Why the last reading failed. */
  problem: Ref<ApiProblem | null>
  /** When what was found was asked for, in seconds since the epoch. */
  readAt: Ref<number>
  /** Reads anew; undefined when that failed, or a later answer was there first. */
  load: () => Promise<T | undefined>
}

/**
 * What a room, a panel or a list is read from, again and again. What was found stays while a later reading fails.
 * `newestAlone`: only the answer to what was asked last counts, as what is asked for changes.
 */
export function useReading<T>(ask: () => Promise<T>, { newestAlone = false } = {}): Reading<T> {
  const found = shallowRef<T | null>(null) as Ref<T | null>
  let asked = 0
  const readAt = ref(0)
  const { problem, keep } = useProblem()
  const order = inOrder()

  async function load(): Promise<T | undefined> {
    const began = Date.now() / 1000
    const mine = ++asked
    const answer = await order(async () => {
      try {
        return { is: await ask() }
      } catch (error) {
        const before = problem.value
        keep(error)
        // What goes wrong again and again is read out once.
        if (before && before.message === problem.value?.message) problem.value = before
        return undefined
      }
    })
    if (!answer || (newestAlone && mine !== asked)) return undefined
    found.value = answer.is
    readAt.value = began
    problem.value = null
    return answer.is
  }

  return { found, problem, readAt, load }
}
