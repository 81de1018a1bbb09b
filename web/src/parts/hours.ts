// Hours of service as they are typed: rows of weekdays with a time from and to, and single dates.
import type { Hours } from '../api/client'

export interface Row {
  days: boolean[]
  from: string
  to: string
}
export interface DateRow {
  day: string
  isClosed: boolean
  from: string
  to: string
}
export interface Typed {
  rows: Row[]
  dates: DateRow[]
}

const clock = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`

/** An end of 24:00 is typed as 00:00, which a field for times knows. */
const shownEnd = (minute: number): string => clock(minute % 1440)

function minutes(text: string): number {
  const [hour, minute] = text.split(':').map(Number)
  return (hour ?? 0) * 60 + (minute ?? 0)
}
const span = (from: string, to: string) => ({ begin: minutes(from), end: minutes(to) || 1440 })

export function typedHours(hours: Hours): Typed {
  const rows: Row[] = []
  hours.weekly.forEach((windows, weekday) => {
    for (const { begin, end } of windows) {
      const [from, to] = [clock(begin), shownEnd(end)]
      let row = rows.find((one) => one.from === from && one.to === to && !one.days[weekday])
      if (!row) rows.push((row = { days: Array<boolean>(7).fill(false), from, to }))
      row.days[weekday] = true
    }
  })
  const dates = (hours.dates ?? []).flatMap(({ day, windows }) =>
    windows.length
      ? windows.map(({ begin, end }) => ({ day, isClosed: false, from: clock(begin), to: shownEnd(end) }))
      : [{ day, isClosed: true, from: '08:00', to: '18:00' }],
  )
  return { rows, dates }
}

export function meantHours({ rows, dates }: Typed): Hours {
  const weekly = Array.from({ length: 7 }, (_, weekday) =>
    rows.filter((row) => row.days[weekday]).map((row) => span(row.from, row.to)),
  )
  const days = [...new Set(dates.map((date) => date.day).filter(Boolean))]
  return {
    weekly,
    dates: days.map((day) => ({
      day,
      windows: dates
        .filter((date) => date.day === day && !date.isClosed)
        .map((date) => span(date.from, date.to)),
    })),
  }
}
