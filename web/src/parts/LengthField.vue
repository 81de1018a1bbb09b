<script setup lang="ts">
// A length of time in minutes, typed in minutes, hours or days; null when the field is empty.
import { ref, watch } from 'vue'

const minutes = defineModel<number | null | undefined>({ required: true })
defineProps<{ label: string; placeholder?: string; faults?: string[] }>()
const UNITS = [
  { value: 1, title: 'minutes' },
  { value: 60, title: 'hours' },
  { value: 1440, title: 'days' },
]
const fits = (length: number | null | undefined) =>
  length ? ([...UNITS].reverse().find((one) => length % one.value === 0)?.value ?? 1) : 60
const unit = ref(fits(minutes.value))
const count = ref(minutes.value ? String(minutes.value / unit.value) : '')
watch([count, unit], () => {
  minutes.value = count.value.trim() ? Number(count.value) * unit.value : null
})
watch(minutes, (now) => {
  if (now === (count.value.trim() ? Number(count.value) * unit.value : null)) return
  unit.value = fits(now)
  count.value = now ? String(now / unit.value) : ''
})
</script>

<template>
  <div class="length">
    <v-text-field
      v-model="count"
      :label="label"
      :placeholder="placeholder"
      persistent-placeholder
      inputmode="numeric"
      :error-messages="faults"
    />
    <v-select v-model="unit" :items="UNITS" :aria-label="`${label}: minutes, hours or days`" />
  </div>
</template>

<style scoped>
.length {
  display: grid;
  grid-template-columns: 1fr 112px;
  gap: 8px;
  align-items: start;
}
</style>
