<script setup lang="ts">
// A number with its unit beside it; empty is no limit.
import type { ApiProblem } from '../api/client'
import type { Amount, Unit } from './amounts'

const props = defineProps<{
  label: string
  units: Unit[]
  name: string
  problem: ApiProblem | null
  none?: string
}>()
const amount = defineModel<Amount>({ required: true })
const faults = () => (props.problem?.field === props.name ? [props.problem.message] : [])
</script>

<template>
  <div class="amount">
    <v-text-field
      v-model="amount.text"
      :label="label"
      :placeholder="none ?? 'no limit'"
      :error-messages="faults()"
      inputmode="decimal"
      persistent-placeholder
    />
    <v-select v-model="amount.unit" :items="units" :aria-label="`Unit of ${label}`" />
  </div>
</template>

<style scoped>
.amount {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 126px;
  gap: 6px;
}
</style>
