/**
 * For one question that is asked again and again: an answer that comes after a later one's says what is no longer
 * so, and is dropped (undefined).
 */
export function inOrder() {
  let asked = 0
  let answered = 0

  return async function take<T>(ask: () => Promise<T | undefined>): Promise<T | undefined> {
    const mine = ++asked
    const found = await ask()
    if (found === undefined || mine < answered) return undefined
    answered = mine
    return found
  }
}
