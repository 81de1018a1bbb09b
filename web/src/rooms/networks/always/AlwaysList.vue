<script setup lang="ts">
// Who is let in always: devices by MAC address, wired ports and access devices; one by one or as a list.
import { ref } from 'vue'

import type { Networks, Trusted } from '../../../api/client'
import { api, got } from '../../../api/client'
import LinesForm from '../../../parts/LinesForm.vue'
import AlwaysForm from './AlwaysForm.vue'

const props = defineProps<{ setup: Networks }>()
const emit = defineEmits<{ changed: [] }>()
const editing = ref<Trusted | 'new' | null>(null)
const showsLines = ref(false)
const SHOWN = 12
const showsAll = ref(false)
const shown = () => (showsAll.value ? props.setup.trusted : props.setup.trusted.slice(0, SHOWN))

function saved(): void {
  editing.value = null
  emit('changed')
}
</script>

<template>
  <section aria-label="Let in always">
    <div class="row">
      <h2>Let in always</h2>
      <v-btn
        class="changes"
        size="x-small"
        aria-label="Add somebody who is let in always"
        @click="editing = 'new'"
        >Add</v-btn
      >
      <v-btn class="changes" size="x-small" variant="text" @click="showsLines = !showsLines"
        >From a list</v-btn
      >
      <a v-if="setup.trusted.length" class="csv" href="/api/trusted.csv">As CSV</a>
    </div>
    <p v-if="!setup.trusted.length" class="soft">
      Nobody yet. The house's own printers, tills and music stands belong here, wired ports, and access
      devices behind which nobody is asked. A network lets them in where <i>is asked</i> offers it.
    </p>
    <AlwaysForm
      v-if="editing"
      :key="editing === 'new' ? 0 : editing.id"
      :trusted="editing === 'new' ? null : editing"
      :setup="setup"
      @saved="saved"
      @close="editing = null"
    />
    <LinesForm
      v-if="showsLines"
      :take="(text) => got(api.POST('/api/trusted/lines', { body: { text } }))"
      name="A list of devices"
      label="Name, MAC address, role: one device on each line"
      example="Till at the gate, 02-00-00-AA-BB-01, Stage crew"
      @taken="emit('changed')"
      @close="showsLines = false"
    />
    <ul>
      <li v-for="one in shown()" :key="one.id">
        <button @click="editing = one">{{ one.name }}</button>
        <span class="soft">{{ one.what }}, {{ one.role_name ?? 'placed by the rules' }}</span>
      </li>
    </ul>
    <v-btn v-if="setup.trusted.length > SHOWN && !showsAll" size="x-small" @click="showsAll = true">
      All {{ setup.trusted.length }}
    </v-btn>
  </section>
</template>

<style scoped>
section {
  margin-top: 16px;
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
</style>
