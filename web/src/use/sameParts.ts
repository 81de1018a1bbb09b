/**
 * What was read anew, with the parts that say the same being the very ones of before, and all of it when nothing
 * changed: a list that is open would be drawn anew under somebody's press otherwise, and the press be lost.
 */
export function sameParts<T extends object>(before: T | null, now: T): T {
  if (before === null) return now
  const same = (name: keyof T) => JSON.stringify(before[name]) === JSON.stringify(now[name])
  const names = Object.keys(now) as (keyof T)[]
  if (names.every(same)) return before
  const parts = { ...now }
  for (const name of names) if (same(name)) parts[name] = before[name]
  return parts
}
