<script setup lang="ts">
// A list taken in line by line: good lines at once, bad ones stay in the field with their reason.
import { ref } from 'vue'

import { type LinesTaken } from '../api/client'
import { useAct } from '../use/useAct'
import ProblemNote from './ProblemNote.vue'

const props = defineProps<{
  take: (text: string) => Promise<LinesTaken>
  name: string
  label: string
  example: string
}>()
const emit = defineEmits<{ taken: []; close: [] }>()
const { isBusy, problem, act } = useAct()
const lines = ref('')
const taken = ref<LinesTaken | null>(null)

async function takeLines(): Promise<void> {
  taken.value = (await act(() => props.take(lines.value))) ?? null
  if (!taken.value) return
  lines.value = taken.value.bad.map((bad) => bad.text).join('\n')
  emit('taken')
}
async function readFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) lines.value = await file.text()
}
</script>

<template>
  <form class="lines" :aria-label="name" @submit.prevent="takeLines">
    <v-textarea
      v-model="lines"
      class="mono"
      rows="5"
      :label="label"
      :placeholder="example"
      persistent-placeholder
    />
    <slot />
    <p v-if="taken" role="status">
      {{ taken.added }} added, {{ taken.changed }} changed{{
        taken.bad.length ? `; ${taken.bad.length} could not be read and stand above:` : '.'
      }}
    </p>
    <ul v-if="taken?.bad.length" class="bad">
      <li v-for="bad in taken.bad" :key="bad.number">{{ bad.text }}: {{ bad.why }}</li>
    </ul>
    <ProblemNote :problem="problem" />
    <div class="row">
      <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy || !lines.trim()">
        Take them in
      </v-btn>
      <label class="file"
        >or choose a file <input type="file" accept=".csv,text/*" @change="readFile"
      /></label>
      <v-btn size="small" variant="text" @click="emit('close')">Back</v-btn>
    </div>
  </form>
</template>

<style scoped>
.lines {
  margin: 10px 0;
}
.bad {
  list-style: none;
  padding: 0;
  margin: 4px 0;
  color: rgb(var(--v-theme-error));
}
.file {
  font-size: 14px;
}
</style>
