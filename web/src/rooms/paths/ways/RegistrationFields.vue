<script setup lang="ts">
// Self-registration: which questions, in which order, called what; and how the code comes.
import { computed } from 'vue'

import type { RegistrationWay } from '../../../api/client'

type Field = RegistrationWay['fields'][number]
const way = defineModel<RegistrationWay>({ required: true })
defineProps<{ plans: { title: string; value: number }[]; faults: string[] }>()
const NAMES: Record<string, string> = {
  name: 'Name',
  mail: 'Mail address',
  phone: 'Phone number',
  company: 'Company',
  room: 'Room',
  visiting: 'Whom they visit',
  reason: 'What brings them here',
}
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
const MOST_OWN = 9
const asked = (key: string) => way.value.fields.find((one) => one.key === key)
const offered = computed(() => {
  const own = way.value.fields.filter((one) => !NAMES[one.key]).length
  const kinds = Object.keys(NAMES).filter((key) => !asked(key))
  return own < MOST_OWN ? [...kinds, 'own'] : kinds
})
const isOwn = (one: Field) => !NAMES[one.key]
/** What is promised without the field that it needs. */
const lacks = computed(() => {
  const said = []
  const has = (...of: string[]) => way.value.deliveries.some((one) => of.includes(one))
  if (has('mail', 'confirm_mail') && !asked('mail')) said.push('the mail address')
  if (has('text', 'confirm_text') && !asked('phone')) said.push('the phone number')
  return said
})

function ask(key: string): void {
  let name = key
  if (key === 'own') {
    let n = 1
    while (asked(`own_${n}`)) n += 1
    name = `own_${n}`
  }
  way.value.fields.push({ key: name, is_required: false, labels: {}, helps: {} })
}
function move(at: number, by: number): void {
  const [one] = way.value.fields.splice(at, 1)
  if (one) way.value.fields.splice(at + by, 0, one)
}
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
  <div v-for="(one, n) in way.fields" :key="one.key" class="field">
    <b>{{ NAMES[one.key] ?? 'A question of your own' }}</b>
    <v-checkbox v-model="one.is_required" label="needed" />
    <v-text-field
      v-model="one.labels!.en"
      :label="isOwn(one) ? 'Asked as, in English' : 'Asked as, if not in our words'"
      maxlength="60"
    />
    <v-text-field v-model="one.labels!.de" label="in German" maxlength="60" />
    <v-text-field v-model="one.helps!.en" label="A line of help, in English" maxlength="160" />
    <v-text-field v-model="one.helps!.de" label="in German" maxlength="160" />
    <span class="acts">
      <v-btn size="x-small" variant="text" :disabled="n === 0" @click="move(n, -1)">Up</v-btn>
      <v-btn size="x-small" variant="text" :disabled="n === way.fields.length - 1" @click="move(n, 1)"
        >Down</v-btn
      >
      <v-btn size="x-small" variant="text" @click="way.fields.splice(n, 1)">Do not ask</v-btn>
    </span>
  </div>
  <div class="more">
    <v-btn v-for="key in offered" :key="key" size="x-small" @click="ask(key)">
      Ask {{ key === 'own' ? 'something of your own' : NAMES[key]?.toLowerCase() }}
    </v-btn>
  </div>
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
  <p v-if="lacks.length" class="note">To send the code, the form must ask for {{ lacks.join(' and ') }}.</p>
  <p v-for="text in faults" :key="text" class="note" role="alert">{{ text }}</p>
</template>

<style scoped>
.top {
  max-width: 260px;
  padding: 10px 0 4px;
}
.says {
  font-size: 14.5px;
  margin: 10px 0 4px;
}
.field {
  display: grid;
  grid-template-columns: 150px 90px repeat(4, minmax(0, 1fr)) auto;
  gap: 10px;
  align-items: center;
  padding: 6px 0;
}
.acts {
  white-space: nowrap;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 6px 0;
}
.deliveries {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
.note {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  font-size: 14.5px;
  margin: 8px 0;
}
@media (max-width: 1100px) {
  .field,
  .deliveries {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
