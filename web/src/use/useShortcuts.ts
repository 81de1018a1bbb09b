import { ref, watch } from 'vue'

const KEPT = 'lauschen.shortcuts'

/** Whether single keys do something (WCAG 2.1.4): somebody who speaks to the machine would press them unasked. */
export const areShortcutsOn = ref(localStorage.getItem(KEPT) !== 'off')

watch(areShortcutsOn, (on) => localStorage.setItem(KEPT, on ? 'on' : 'off'))
// What names a key of them is not shown then.
watch(areShortcutsOn, (on) => document.documentElement.classList.toggle('no-shortcuts', !on), {
  immediate: true,
})
