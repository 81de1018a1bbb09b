/** What was read anew, or what was there before where both say the same: an open list is not drawn anew then. */
export function kept<T>(before: T | undefined, now: T): T {
  return before !== undefined && JSON.stringify(before) === JSON.stringify(now) ? before : now
}
