import { ref } from 'vue'

/** The last act in words, and what takes it back: that says whether it did. */
export interface Undo {
  says: string
  back: (() => Promise<boolean>) | null
  /** What is said then. */
  after?: string
}

/** Keeps what was done last; `u`, or a press, undoes it once. */
export function useUndo() {
  const last = ref<Undo | null>(null)

  function did(says: string, back: Undo['back'], after?: string): void {
    last.value = { says, back, after }
  }

  async function undo(): Promise<void> {
    const done = last.value
    if (!done?.back) return
    last.value = { says: done.says, back: null }
    last.value = (await done.back()) ? { says: done.after ?? 'Taken back.', back: null } : done
  }

  return { last, did, undo }
}
