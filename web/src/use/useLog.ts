import { onMounted, ref, watch } from 'vue'

import { api, got, type LogLine } from '../api/client'
import { useLive } from '../stores/live'

/** The newest lines of the log, kept fresh while something is heard; `older` goes back in time. */
export function useLog() {
  const lines = ref<LogLine[]>([])
  const live = useLive()
  let isLoading = false

  async function load(): Promise<void> {
    if (isLoading) return
    isLoading = true
    try {
      const newest = await got(api.GET('/api/log'))
      const edge = newest.at(-1)?.id ?? 0
      lines.value = [...newest, ...lines.value.filter((line) => line.id < edge)]
    } finally {
      isLoading = false
    }
  }

  async function older(): Promise<void> {
    const last = lines.value.at(-1)
    if (last)
      lines.value = [
        ...lines.value,
        ...(await got(api.GET('/api/log', { params: { query: { before: last.id } } }))),
      ]
  }

  onMounted(load)
  watch(() => live.now?.line?.id, load)
  return { lines, older }
}
