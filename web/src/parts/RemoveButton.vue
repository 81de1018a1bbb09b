<script setup lang="ts">
// Removes a part of the configuration, on the second press; says why not when something still needs it.
import { ref } from 'vue'

import ProblemNote from './ProblemNote.vue'
import { useAct } from '../use/useAct'

const props = defineProps<{ remove: () => Promise<unknown>; label: string }>()
const emit = defineEmits<{ removed: [] }>()
const { isBusy, problem, act } = useAct()
const isSure = ref(false)

async function press(): Promise<void> {
  if (!isSure.value) {
    isSure.value = true
    return
  }
  isSure.value = false
  if (await act(async () => (await props.remove(), true))) emit('removed')
}
</script>

<template>
  <v-btn class="changes" size="small" :disabled="isBusy" @click="press" @blur="isSure = false">
    {{ isSure ? 'Really remove it' : label }}
  </v-btn>
  <ProblemNote class="note" :problem="problem" />
</template>

<style scoped>
.note {
  flex-basis: 100%;
  margin: 4px 0;
}
</style>
