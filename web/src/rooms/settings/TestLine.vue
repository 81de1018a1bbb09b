<script setup lang="ts">
// A real test of what stands in a form, saved or not: one message now, and the other side's own words.
import { ref } from 'vue'

import type { Tried } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ label: string; send: (to: string) => Promise<Tried> }>()
const { isBusy, problem, act, fault } = useAct()
const to = ref('')
const tried = ref<Tried | null>(null)

async function test(): Promise<void> {
  tried.value = null
  tried.value = (await act(() => props.send(to.value))) ?? null
}
</script>

<template>
  <div class="test">
    <v-text-field
      v-model="to"
      :label="label"
      maxlength="254"
      :error-messages="fault('to')"
      @keydown.enter.prevent="test"
    />
    <v-btn :disabled="isBusy || !to" @click="test">{{ isBusy ? 'Sending…' : 'Send a test now' }}</v-btn>
    <p v-if="tried" class="answer" :class="{ bad: !tried.is_sent }" role="status">
      <b>{{ tried.is_sent ? 'It was taken.' : 'It was not taken.' }}</b> {{ tried.answer }}
    </p>
    <ProblemNote v-if="problem && problem.field !== 'to'" :problem="problem" />
  </div>
</template>

<style scoped>
.test {
  display: grid;
  grid-template-columns: minmax(0, 22em) auto 1fr;
  gap: 6px 14px;
  align-items: start;
  margin: 4px 0 12px;
}
.answer {
  margin: 0;
  padding: 4px 12px;
  border-left: 4px solid rgb(var(--v-theme-inside));
  overflow-wrap: anywhere;
}
.answer.bad {
  border-color: rgb(var(--v-theme-barred));
}
@media (max-width: 900px) {
  .test {
    grid-template-columns: 1fr;
  }
}
</style>
