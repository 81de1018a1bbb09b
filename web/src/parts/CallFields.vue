<script setup lang="ts">
// A described HTTP request: method, address, headers, body, and what counts as success.
import { computed } from 'vue'

import type { ApiProblem, Call } from '../api/client'

const request = defineModel<Call>({ required: true })
defineProps<{ title: string; name: string; problem: ApiProblem | null }>()
const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE']
const headers = computed({
  get: () => (request.value.headers ?? []).map(([n, v]) => `${n}: ${v}`).join('\n'),
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
  get: () => (request.value.good_status ?? []).join(', '),
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
        <v-select v-model="request.method" label="Method" :items="METHODS" />
        <v-text-field
          v-model="request.url"
          label="Address"
          class="mono"
          placeholder="https://"
          :error-messages="problem?.field === name ? [problem.message] : []"
        />
      </div>
      <div class="pair even">
        <v-text-field v-model.lazy="statuses" label="Success: status" class="mono" />
        <v-text-field v-model="request.good_text" label="and this text" class="mono" />
      </div>
      <v-textarea
        v-model.lazy="headers"
        label="Headers, one on each line"
        rows="3"
        spellcheck="false"
        class="mono"
      />
      <v-textarea v-model="request.body" label="Body" rows="3" spellcheck="false" class="mono" />
    </div>
  </section>
</template>

<style scoped>
section {
  margin-top: 16px;
}
h2 {
  margin-bottom: 10px;
}
.pair {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 12px;
}
.even {
  grid-template-columns: 1fr 1fr;
}
</style>
