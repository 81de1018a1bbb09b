<script setup lang="ts">
// A length of time in minutes, typed with its unit; null when the field is empty.
import { ref, watch } from 'vue'

import type { ApiProblem } from '../api/client'
import AmountField from './AmountField.vue'
import { meant, shown, TIMES } from './amounts'

const minutes = defineModel<number | null | undefined>({ required: true })
defineProps<{ label: string; name: string; none?: string; problem: ApiProblem | null }>()
const DAY = 86_400
const asShown = () => shown(minutes.value == null ? null : minutes.value * 60, TIMES, DAY)
const typed = () => {
  const seconds = meant(amount.value)
  return seconds === null ? null : seconds / 60
}
const amount = ref(asShown())
watch(amount, () => (minutes.value = typed()), { deep: true })
watch(minutes, (now) => {
  if (now !== typed()) amount.value = asShown()
})
</script>

<template>
  <AmountField v-model="amount" :label="label" :name="name" :units="TIMES" :none="none" :problem="problem" />
</template>
