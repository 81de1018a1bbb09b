<script setup lang="ts">
// Self-registration: which questions, in which order, called what; and how the code comes.
import { computed } from 'vue'

import type { RegistrationWay } from '../../../api/client'
import QuestionFields from './QuestionFields.vue'

const way = defineModel<RegistrationWay>({ required: true })
defineProps<{ plans: { title: string; value: number }[]; faults: string[] }>()
const DELIVERIES = [
  {
    value: 'at_once',
    title: 'in at once',
    says: 'whoever fills it in is online; the code is for further devices',
  },
  { value: 'page', title: 'on the page', says: 'shown, to be kept; a button lets in' },
  { value: 'mail', title: 'by mail', says: 'nobody gets in without reading that mail' },
  { value: 'text', title: 'as a text message', says: 'at its price' },
  {
    value: 'confirm_mail',
    title: 'in at once, confirmed by mail',
    says: 'a first stay to read it in; the whole plan once its link or digits were used, held without',
  },
  { value: 'confirm_text', title: 'in at once, confirmed by text message', says: 'the same, at its price' },
] as const
const asked = (key: string) => way.value.fields.some((one) => one.key === key)
/** What is promised without the field that it needs. */
const lacks = computed(() => {
  const said = []
  const has = (...of: string[]) => way.value.deliveries.some((one) => of.includes(one))
  if (has('mail', 'confirm_mail') && !asked('mail')) said.push('the mail address')
  if (has('text', 'confirm_text') && !asked('phone')) said.push('the phone number')
  return said
})

function turn(delivery: RegistrationWay['deliveries'][number]): void {
  const all = way.value.deliveries
  way.value.deliveries = all.includes(delivery) ? all.filter((one) => one !== delivery) : [...all, delivery]
}
</script>

<template>
  <div class="top">
    <v-select v-model="way.plan" :items="plans" label="Plan" />
  </div>
  <p class="says">
    What the form asks, from top to bottom. Nobody confirms what is written, and it is marked so.
  </p>
  <QuestionFields v-model="way.fields" />
  <p class="says">
    How guests get their code; where there are several they choose, and the first is chosen for them.
  </p>
  <div class="deliveries">
    <v-checkbox
      v-for="d in DELIVERIES"
      :key="d.value"
      :model-value="way.deliveries.includes(d.value)"
      :label="`${d.title}: ${d.says}`"
      @update:model-value="turn(d.value)"
    />
  </div>
  <div v-if="way.deliveries.some((one) => one.startsWith('confirm'))" class="top">
    <v-text-field v-model.number="way.first_minutes" label="First stay" suffix="min" inputmode="numeric" />
  </div>
  <p v-if="way.deliveries.some((one) => one.startsWith('confirm'))" class="says">
    A first stay reaches all that the plan's role lets guests reach, so that they can open their message; the
    page says so. Whoever does not confirm is held when it ends.
  </p>
  <p v-if="lacks.length" class="note">To send the code, the form must ask for {{ lacks.join(' and ') }}.</p>
  <v-checkbox
    v-model="way.asks_consent"
    label="A box for being written to, never ticked before: its words are in Settings, Privacy"
  />
  <p v-for="text in faults" :key="text" class="note" role="alert">{{ text }}</p>
</template>

<style scoped>
.top {
  max-width: 260px;
  padding: 10px 0 4px;
}
.says {
  margin: 10px 0 4px;
}
.deliveries {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
@media (max-width: 1100px) {
  .deliveries {
    grid-template-columns: 1fr;
  }
}
</style>
