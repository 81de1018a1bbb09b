import { ref } from 'vue'

/** The last act that can be taken back, in words, and how. */
export interface Undo {
  says: string
  back: (() => Promise<unknown>) | null
}

/** Keeps what was done last; `u`, or a press, undoes it once. */
export function useUndo() {
  const last = ref<Undo | null>(null)

  function did(says: string, back: Undo['back']): void {
    last.value = { says, back }
  }

  async function undo(): Promise<void> {
    const back = last.value?.back
    if (!back) return
    last.value = { says: 'Taken back.', back: null }
    await back()
  }

  return { last, did, undo }
}
