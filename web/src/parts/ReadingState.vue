<script setup lang="ts">
// What stands in place of something that is not read yet, or above it when it could not be read again.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

import type { Reading } from '../use/useReading'
import { useTimes } from '../use/useTimes'
import ProblemNote from './ProblemNote.vue'

/** Most answers are there sooner: then nothing flickers. */
const SLOW_MS = 300
const props = defineProps<{ of: Reading }>()
const times = useTimes()
const isSlow = ref(false)
const isAsking = ref(false)
const isThere = computed(() => props.of.found.value !== null)
const problem = computed(() => props.of.problem.value)
let timer: ReturnType<typeof setTimeout> | undefined
onMounted(() => (timer = setTimeout(() => (isSlow.value = true), SLOW_MS)))
onBeforeUnmount(() => clearTimeout(timer))

async function again(): Promise<void> {
  isAsking.value = true
  try {
    await props.of.load()
  } finally {
    isAsking.value = false
  }
}
</script>

<template>
  <p v-if="!isThere && !problem" class="soft loading" role="status">{{ isSlow ? 'Loading…' : '' }}</p>
  <div v-if="problem" class="failed">
    <ProblemNote :problem="problem" />
    <p>
      <span v-if="isThere" class="soft">What you see is from {{ times.clock(props.of.readAt.value) }}.</span>
      <v-btn size="small" :disabled="isAsking" @click="again">Try again</v-btn>
    </p>
  </div>
</template>

<style scoped>
.loading {
  min-height: 1.5em;
}
.failed p {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
}
</style>
