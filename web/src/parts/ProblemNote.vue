<script setup lang="ts">
// What went wrong, read out when it appears, and again when the same goes wrong once more.
import { ref, watch } from 'vue'

import type { ApiProblem } from '../api/client'

const props = defineProps<{ problem: ApiProblem | null }>()
const times = ref(0)
watch(
  () => props.problem,
  () => (times.value += 1),
)
</script>

<template>
  <p v-if="problem" :key="times" class="problem" role="alert">
    <strong>{{ problem.title }}.</strong> {{ problem.message }}
  </p>
</template>

<style scoped>
.problem {
  border-left: 4px solid rgb(var(--v-theme-barred));
  padding: 6px 12px;
  margin: 10px 0;
  max-width: 60rem;
}
</style>
