<script setup lang="ts">
import type { ApiProblem } from '../api/client'

defineProps<{ problem: ApiProblem | null }>()
</script>

<template>
  <p v-if="problem" class="problem" role="alert">
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
