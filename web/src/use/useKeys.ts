import { onBeforeUnmount, onMounted } from 'vue'

import { areShortcutsOn } from './useShortcuts'

export type Keys = Record<string, () => void>

/** A list that is open takes Esc for itself; what is around it stays as it is. Looked at before the list closes. */
let wasListOpen = false
window.addEventListener(
  'keydown',
  () => (wasListOpen = document.querySelector('.v-overlay--active [role=listbox]') !== null),
  { capture: true },
)

/** Single keys while nothing is being typed; gone with the component that asked for them. */
export function useKeys(keys: Keys): void {
  function pressed(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const target = event.target as HTMLElement
    const isTyping = target.matches('input, textarea, select, [contenteditable], [role=combobox] *')
    if (isTyping && event.key !== 'Escape') return
    if (event.key === 'Escape' ? wasListOpen : event.key.length === 1 && !areShortcutsOn.value) return
    const act = keys[event.key]
    if (!act) return
    event.preventDefault()
    act()
  }
  onMounted(() => window.addEventListener('keydown', pressed))
  onBeforeUnmount(() => window.removeEventListener('keydown', pressed))
}
