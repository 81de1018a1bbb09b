import { computed } from 'vue'

import { useLive } from '../stores/live'
import { useSession } from '../stores/session'

/** Days so far away are said with their year. */
const FAR_S = 300 * 86400

/** By what it formats: making one takes longer than a row of a list. */
const formatters = new Map<string, Intl.DateTimeFormat>()
function formatter(options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = JSON.stringify(options)
  const found = formatters.get(key) ?? new Intl.DateTimeFormat('en-GB', options)
  formatters.set(key, found)
  return found
}

/** Times as people say them, in the zone of the site. */
export function useTimes() {
  const session = useSession()
  const live = useLive()
  const zone = computed(() => session.session?.zone ?? 'UTC')
  const now = computed(() => live.now?.at ?? Date.now() / 1000)

  const format = (at: number, options: Intl.DateTimeFormatOptions) =>
    formatter({ timeZone: zone.value, ...options }).format(at * 1000)
  const day = (at: number) => format(at, { year: 'numeric', month: '2-digit', day: '2-digit' })

  function clock(at: number): string {
    const time = format(at, { hour: '2-digit', minute: '2-digit' })
    if (day(at) === day(now.value)) return time
    if (day(at) === day(now.value + 86400)) return `tomorrow ${time}`
    const year = Math.abs(at - now.value) > FAR_S ? ({ year: 'numeric' } as const) : {}
    return `${format(at, { weekday: 'short', day: 'numeric', month: 'short', ...year })} ${time}`
  }
  const second = (at: number) => format(at, { hour: '2-digit', minute: '2-digit', second: '2-digit' })
  const exact = (at: number) => format(at, { dateStyle: 'full', timeStyle: 'long' })

  function duration(seconds: number): string {
    const whole = Math.max(0, Math.floor(seconds))
    const days = Math.floor(whole / 86400)
    const hours = Math.floor((whole % 86400) / 3600)
    const minutes = Math.floor((whole % 3600) / 60)
    if (days) return hours ? `${days} d ${hours} h` : `${days} d`
    if (hours) return minutes ? `${hours} h ${minutes} min` : `${hours} h`
    return minutes ? `${minutes} min` : `${whole} s`
  }
  const ago = (at: number) => `${duration(now.value - at)} ago`

  return { now, clock, second, exact, duration, ago }
}

/** 1 GB = 10^9 octets; three significant digits, rounded down, as the guest page says it. */
export const amount = (octets: number): string => rounded(octets, 'B', 3)

/** Two significant digits: it is an average of minutes. */
export const rate = (bitsPerS: number): string => rounded(bitsPerS, 'bit/s', 2)

function rounded(count: number, unit: string, digits: number): string {
  for (const [prefix, size] of [
    ['G', 1e9],
    ['M', 1e6],
    ['k', 1e3],
  ] as const) {
    if (count >= size) {
      const places = 10 ** Math.max(0, digits - String(Math.floor(count / size)).length)
      return `${Math.floor((count * places) / size) / places} ${prefix}${unit}`
    }
  }
  return `${count} ${unit}`
}
