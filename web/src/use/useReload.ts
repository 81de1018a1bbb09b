import { onScopeDispose } from 'vue'

/** Least pause between two readings, and how many times as long as a reading took. */
const LEAST_MS = 400
const TIMES = 12

/**
 * Calls `read` when asked to, never twice at once, and the more seldom the longer it takes: what is asked for
 * meanwhile is one more reading after the pause. Nothing is read while nobody looks at the tab.
 */
export function useReload(read: () => Promise<void>): () => void {
  let timer: ReturnType<typeof setTimeout> | null = null
  let isWanted = false
  let isOver = false

  async function run(): Promise<void> {
    isWanted = false
    const began = performance.now()
    try {
      await read()
    } finally {
      const pause = Math.max(LEAST_MS, (performance.now() - began) * TIMES)
      timer = isOver ? null : setTimeout(next, pause)
    }
  }

  function next(): void {
    timer = null
    if (isWanted && !document.hidden) void run()
  }

  function ask(): void {
    isWanted = true
    if (timer === null && !document.hidden) {
      timer = setTimeout(() => undefined)
      void run()
    }
  }

  const seen = () => {
    if (isWanted) ask()
  }
  document.addEventListener('visibilitychange', seen)
  onScopeDispose(() => {
    isOver = true
    if (timer !== null) clearTimeout(timer)
    document.removeEventListener('visibilitychange', seen)
  })
  return ask
}
