// Amounts as people type them: a number and its unit; nothing means no such limit.
export interface Unit {
  title: string
  value: number
}

export const TIMES: Unit[] = [
  { title: 'minutes', value: 60 },
  { title: 'hours', value: 3600 },
  { title: 'days', value: 86_400 },
]
export const DATA: Unit[] = [
  { title: 'MB', value: 1e6 },
  { title: 'GB', value: 1e9 },
  { title: 'TB', value: 1e12 },
]
export const RATES: Unit[] = [
  { title: 'kbit/s', value: 1e3 },
  { title: 'Mbit/s', value: 1e6 },
  { title: 'Gbit/s', value: 1e9 },
]

export interface Amount {
  text: string
  unit: number
}

/** The largest unit that gives a whole number. */
export function shown(value: number | null | undefined, units: Unit[], usual: number): Amount {
  if (value == null) return { text: '', unit: usual }
  const fits = [...units].reverse().find((unit) => value % unit.value === 0) ?? units[0]
  return { text: String(value / (fits?.value ?? 1)), unit: fits?.value ?? 1 }
}

/** Null for nothing typed; NaN for what is no number, which the server then refuses by name. */
export function meant(amount: Amount): number | null {
  const text = amount.text.trim().replace(',', '.')
  return text === '' ? null : Math.round(Number(text) * amount.unit)
}
