<script setup lang="ts">
// A described HTTP request: method, address, headers, body, and what counts as success.
import { computed } from 'vue'

import type { ApiProblem, Call } from '../../api/client'
import FieldRow from '../../parts/FieldRow.vue'

const request = defineModel<Call>({ required: true })
defineProps<{ title: string; name: string; problem: ApiProblem | null }>()
const headers = computed({
  get: () => request.value.headers.map(([n, v]) => `${n}: ${v}`).join('\n'),
  set: (text: string) => {
    request.value.headers = text
      .split('\n')
      .filter((line) => line.includes(':'))
      .map((line) => {
        const at = line.indexOf(':')
        return [line.slice(0, at).trim(), line.slice(at + 1).trim()]
      })
  },
})
const statuses = computed({
  get: () => request.value.good_status.join(', '),
  set: (text: string) => {
    request.value.good_status = text
      .split(',')
      .map(Number)
      .filter((n) => n > 99 && n < 600)
  },
})
</script>

<template>
  <section>
    <h2>{{ title }}</h2>
    <div class="columns">
      <div class="pair">
        <FieldRow label="Method"
          ><select v-model="request.method">
            <option v-for="m in ['GET', 'POST', 'PUT', 'PATCH', 'DELETE']" :key="m">{{ m }}</option>
          </select></FieldRow
        >
        <FieldRow label="Address" :name="name" :problem="problem"
          ><input v-model="request.url" class="mono" placeholder="https://"
        /></FieldRow>
      </div>
      <div class="pair even">
        <FieldRow label="Success: status"><input v-model.lazy="statuses" class="mono" /></FieldRow>
        <FieldRow label="and this text"><input v-model="request.good_text" class="mono" /></FieldRow>
      </div>
      <FieldRow label="Headers, one on each line">
        <textarea v-model.lazy="headers" rows="3" spellcheck="false" />
      </FieldRow>
      <FieldRow label="Body"><textarea v-model="request.body" rows="3" spellcheck="false" /></FieldRow>
    </div>
  </section>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 30px;
}
.pair {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px;
}
.even {
  grid-template-columns: 1fr 1fr;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
