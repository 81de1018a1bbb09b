import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type LogLine } from '../api/client'
import { useLive } from '../stores/live'
import { useAct } from './useAct'
import { useReading } from './useReading'
import { useReload } from './useReload'

/** The newest lines of the log, kept fresh while something is heard; `older` goes back in time. */
export function useLog() {
  const before = ref<LogLine[]>([])
  const live = useLive()
  const { isBusy, problem, act } = useAct()
  const page = (edge?: number) => got(api.GET('/api/log', { params: { query: { before: edge } } }))
  const reading = useReading(async () => {
    const newest = await page()
    // What falls off the newest page is still shown.
    before.value = [...(reading.found.value ?? []), ...before.value].filter(
      (line) => line.id < (newest.at(-1)?.id ?? 0),
    )
    return newest
  })
  const lines = computed(() => [...(reading.found.value ?? []), ...before.value])

  async function older(): Promise<void> {
    const last = lines.value.at(-1)
    const found = last && (await act(() => page(last.id)))
    if (found) before.value = [...before.value, ...found]
  }

  const reload = useReload(async () => void (await reading.load()))
  onMounted(reload)
  watch(() => live.now?.line?.id, reload)
  return { reading, lines, isBusy, problem, older }
}
