<script setup lang="ts">
// Who is let in always: devices by MAC address, wired ports and access devices; one by one or as a list.
import { ref } from 'vue'

import { call, type Paths, type Trusted, type TrustedTaken } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import { useAct } from '../../../use/useAct'
import AlwaysForm from './AlwaysForm.vue'

const props = defineProps<{ paths: Paths }>()
const emit = defineEmits<{ changed: [] }>()
const { isBusy, problem, act } = useAct()
const editing = ref<Trusted | 'new' | null>(null)
const showsLines = ref(false)
const lines = ref('')
const taken = ref<TrustedTaken | null>(null)
const SHOWN = 12
const showsAll = ref(false)
const shown = () => (showsAll.value ? props.paths.trusted : props.paths.trusted.slice(0, SHOWN))

function saved(): void {
  editing.value = null
  emit('changed')
}
async function takeLines(): Promise<void> {
  taken.value =
    (await act(() => call<TrustedTaken>('POST', '/api/trusted/lines', { text: lines.value }))) ?? null
  if (!taken.value) return
  lines.value = taken.value.bad.map((bad) => bad.text).join('\n')
  emit('changed')
}
async function read(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) lines.value = await file.text()
}
</script>

<template>
  <section aria-label="Let in always">
    <div class="row">
      <h2>Let in always</h2>
      <v-btn size="x-small" aria-label="Add somebody who is let in always" @click="editing = 'new'"
        >Add</v-btn
      >
      <v-btn size="x-small" variant="text" @click="showsLines = !showsLines">From a list</v-btn>
      <a v-if="paths.trusted.length" class="csv" href="/api/trusted.csv">As CSV</a>
    </div>
    <p v-if="!paths.trusted.length" class="soft">
      Nobody yet. The house's own printers, tills and music stands belong here, wired ports, and access
      devices behind which nobody is asked. A network lets them in where <i>is asked</i> offers it.
    </p>
    <AlwaysForm
      v-if="editing"
      :key="editing === 'new' ? 0 : editing.id"
      :trusted="editing === 'new' ? null : editing"
      :paths="paths"
      @saved="saved"
      @close="editing = null"
    />
    <form v-if="showsLines" class="lines" aria-label="A list of devices" @submit.prevent="takeLines">
      <v-textarea
        v-model="lines"
        class="mono"
        rows="5"
        label="Name, MAC address, role: one device on each line"
        placeholder="Till at the gate, 02-00-00-AA-BB-01, Stage crew"
        persistent-placeholder
      />
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
        <label class="file">or choose a file <input type="file" accept=".csv,text/*" @change="read" /></label>
        <v-btn size="small" variant="text" @click="showsLines = false">Back</v-btn>
      </div>
    </form>
    <ul>
      <li v-for="one in shown()" :key="one.id">
        <button @click="editing = one">{{ one.name }}</button>
        <span class="soft">{{ one.what }}, {{ one.role_name ?? 'placed by the rules' }}</span>
      </li>
    </ul>
    <v-btn v-if="paths.trusted.length > SHOWN && !showsAll" size="x-small" @click="showsAll = true">
      All {{ paths.trusted.length }}
    </v-btn>
  </section>
</template>

<style scoped>
section {
  margin-top: 16px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
li {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 6px 0;
}
li button {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
  margin-right: 10px;
}
.bad li {
  border: 0;
  padding: 2px 0;
  color: rgb(var(--v-theme-error));
}
.lines {
  margin: 10px 0;
}
.csv {
  color: rgb(var(--v-theme-primary));
  font-size: 14px;
}
.file {
  font-size: 14px;
}
</style>
