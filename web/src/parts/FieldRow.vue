<script setup lang="ts">
// One labelled field; what is wrong with it stands below it.
import type { ApiProblem } from '../api/client'

defineProps<{ label: string; hint?: string; name?: string; problem?: ApiProblem | null }>()
</script>

<template>
  <label class="field" :class="{ wrong: name && problem?.field === name }">
    <span class="label">{{ label }}</span>
    <slot />
    <span v-if="name && problem?.field === name" class="fault" role="alert">{{ problem.message }}</span>
    <span v-else-if="hint" class="soft hint">{{ hint }}</span>
  </label>
</template>

<style scoped>
.field {
  display: block;
  margin: 0 0 12px;
}
.label {
  display: block;
  font-size: 13px;
  color: rgb(var(--v-theme-soft));
}
.hint,
.fault {
  display: block;
  font-size: 13px;
  margin-top: 2px;
}
.fault {
  color: rgb(var(--v-theme-barred));
}
.field :slotted(input:not([type='checkbox'])),
.field :slotted(select),
.field :slotted(textarea) {
  width: 100%;
  min-height: 34px;
  padding: 4px 10px;
  border: 1.5px solid rgb(var(--v-theme-hair));
  border-radius: 7px;
  background: rgb(var(--v-theme-surface));
  color: inherit;
  font: inherit;
  outline-offset: 1px;
}
.field :slotted(textarea) {
  resize: vertical;
  font-family: var(--mono);
  font-size: 13.5px;
}
.field :slotted(select option) {
  color: #2a2130;
  background: #fff;
}
.wrong :slotted(input),
.wrong :slotted(select),
.wrong :slotted(textarea) {
  border-color: rgb(var(--v-theme-barred));
}
</style>
