<script setup lang="ts">
// How far a long job is, and Cancel; what it came to stands in the slot.
import type { Job } from '../../api/client'

defineProps<{ job: Job; made: string }>()
defineEmits<{ cancel: [] }>()
</script>

<template>
  <p class="job" role="status">
    <template v-if="job.state === 'running'">
      <progress :value="job.done" :max="job.of" aria-label="How far it is" />
      {{ job.done.toLocaleString('en') }} of {{ job.of.toLocaleString('en') }} {{ made }}
      <v-btn size="x-small" @click="$emit('cancel')">Cancel</v-btn>
    </template>
    <slot v-else></slot>
  </p>
</template>

<style scoped>
.job {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
progress {
  width: 220px;
  accent-color: rgb(var(--v-theme-primary));
}
</style>
