<script setup lang="ts">
// One hint by which a network is recognised: a way to compare, and what it must be.
import type { ApiProblem, Hint } from '../../api/client'
import FieldRow from '../../parts/FieldRow.vue'

const hint = defineModel<Hint>({ required: true })
defineProps<{ label: string; name: string; problem: ApiProblem | null }>()
const WAYS = [
  ['any', 'may be anything'],
  ['exact', 'is'],
  ['begins', 'begins with'],
  ['ends', 'ends with'],
] as const
</script>

<template>
  <FieldRow :label="label" :name="name" :problem="problem">
    <span class="pair">
      <select v-model="hint.match" :aria-label="`${label}: how it is compared`">
        <option v-for="[way, word] in WAYS" :key="way" :value="way">{{ word }}</option>
      </select>
      <input
        v-if="hint.match !== 'any'"
        v-model="hint.value"
        :aria-label="`${label}: what it must be`"
        maxlength="253"
      />
    </span>
  </FieldRow>
</template>

<style scoped>
.pair {
  display: flex;
  gap: 8px;
}
.pair select {
  flex: 0 0 150px;
}
.pair select,
.pair input {
  min-height: 34px;
  padding: 4px 10px;
  border: 1.5px solid rgb(var(--v-theme-hair));
  border-radius: 7px;
  background: rgb(var(--v-theme-surface));
  color: inherit;
  flex: 1;
  min-width: 0;
}
.pair select {
  flex: 0 0 150px;
}
</style>
