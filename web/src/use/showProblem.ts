/**
 * Brings what went wrong into view: the field that it is about, which is focused so that its message is read out, or
 * else the note that says it. `root`: the element of the form or room that acted. False when nothing there says it.
 */
export function showProblem(root: unknown, message: string): boolean {
  const here = root instanceof Element ? root : root instanceof Node ? root.parentElement : null
  const scope = here ?? document.body
  const says = (one: Element) => one.textContent.includes(message)
  const field = [...scope.querySelectorAll('.v-input--error')].find(says)
  if (field) {
    field.querySelector<HTMLElement>('input, textarea')?.focus({ preventScroll: true })
    field.scrollIntoView({ block: 'center' })
    return true
  }
  const note = [...scope.querySelectorAll('[role=alert]')].find(says)
  note?.scrollIntoView({ block: 'center' })
  return !!note
}
