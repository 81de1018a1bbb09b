<script setup lang="ts">
// The questions of a form: which, in which order, called what.
import { computed } from 'vue'

import type { RegistrationWay } from '../../../api/client'

type Field = RegistrationWay['fields'][number]
const fields = defineModel<Field[]>({ required: true })
const NAMES: Record<string, string> = {
  name: 'Name',
  mail: 'Mail address',
  phone: 'Phone number',
  company: 'Company',
  room: 'Room',
  visiting: 'Whom they visit',
  reason: 'What brings them here',
}
const MOST_OWN = 9
const asked = (key: string) => fields.value.find((one) => one.key === key)
const offered = computed(() => {
  const own = fields.value.filter((one) => !NAMES[one.key]).length
  const kinds = Object.keys(NAMES).filter((key) => !asked(key))
  return own < MOST_OWN ? [...kinds, 'own'] : kinds
})
const isOwn = (one: Field) => !NAMES[one.key]

function ask(key: string): void {
  let name = key
  if (key === 'own') {
    let n = 1
    while (asked(`own_${n}`)) n += 1
    name = `own_${n}`
  }
  fields.value.push({ key: name, is_required: false, labels: {}, helps: {} })
}
function move(at: number, by: number): void {
  const [one] = fields.value.splice(at, 1)
  if (one) fields.value.splice(at + by, 0, one)
}
</script>

<template>
  <div v-for="(one, n) in fields" :key="one.key" class="field">
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
      <v-btn size="x-small" variant="text" :disabled="n === fields.length - 1" @click="move(n, 1)"
        >Down</v-btn
      >
      <v-btn size="x-small" variant="text" @click="fields.splice(n, 1)">Do not ask</v-btn>
    </span>
  </div>
  <div class="more">
    <v-btn v-for="key in offered" :key="key" size="x-small" @click="ask(key)">
      Ask {{ key === 'own' ? 'something of your own' : NAMES[key]?.toLowerCase() }}
    </v-btn>
  </div>
</template>

<style scoped>
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
@media (max-width: 1100px) {
  .field {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
