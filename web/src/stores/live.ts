import { defineStore } from 'pinia'
import { ref } from 'vue'

import type { Now } from '../api/client'

/** The last picture of now, pushed by the server; the top of every room reads it. */
export const useLive = defineStore('live', () => {
  const now = ref<Now | null>(null)
  const isConnected = ref(false)
  const isLogOpen = ref(false)
  let source: EventSource | null = null

  function open(): void {
    if (source) return
    source = new EventSource('/api/feed')
    source.addEventListener('open', () => (isConnected.value = true))
    source.addEventListener('error', () => (isConnected.value = false))
    source.addEventListener('now', (event) => {
      now.value = JSON.parse((event as MessageEvent<string>).data) as Now
    })
  }

  function close(): void {
    source?.close()
    source = null
    isConnected.value = false
  }

  return { now, isConnected, isLogOpen, open, close }
})
