<script setup lang="ts">
// One hint by which a network is recognised: a way to compare, and what it must be.
import type { ApiProblem, Hint } from '../../api/client'

const hint = defineModel<Hint>({ required: true })
const props = defineProps<{ label: string; name: string; problem: ApiProblem | null }>()
const WAYS = [
  { title: 'may be anything', value: 'any' },
  { title: 'is', value: 'exact' },
  { title: 'begins with', value: 'begins' },
  { title: 'ends with', value: 'ends' },
]
const faults = () => (props.problem?.field === props.name ? [props.problem.message] : [])
</script>

<template>
  <div class="hint">
    <v-select
      v-model="hint.match"
      :label="label"
      :items="WAYS"
      :error-messages="hint.match === 'any' ? faults() : []"
    />
    <v-text-field
      v-if="hint.match !== 'any'"
      v-model="hint.value"
      :aria-label="`${label}: what it must be`"
      maxlength="253"
      :error-messages="faults()"
    />
  </div>
</template>

<style scoped>
.hint {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr);
  gap: 6px;
}
</style>
