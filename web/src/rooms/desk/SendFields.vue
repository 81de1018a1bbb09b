<script setup lang="ts">
// Where something is sent: one field for a mail address or a phone number, and the language of the message.
import { computed } from 'vue'

import type { ApiProblem } from '../../api/client'

const send = defineModel<{ to: string; lang: 'en' | 'de' }>({ required: true })
const props = defineProps<{ sends: string[]; problem: ApiProblem | null }>()
const LANGUAGES = [
  { value: 'en', title: 'English' },
  { value: 'de', title: 'Deutsch' },
]
const label = computed(() => {
  const names = { mail: 'mail address', text: 'phone number' } as Record<string, string>
  return `Send to: ${props.sends.map((way) => names[way]).join(' or ')}`
})
const fault = computed(() => (props.problem?.field === 'to' ? [props.problem.message] : []))
</script>

<template>
  <template v-if="sends.length">
    <v-text-field
      v-model="send.to"
      :label="label"
      maxlength="254"
      inputmode="email"
      autocomplete="off"
      placeholder="nowhere"
      persistent-placeholder
      :error-messages="fault"
    />
    <v-select v-if="send.to" v-model="send.lang" label="Written in" :items="LANGUAGES" />
  </template>
  <p v-else class="soft none">
    It cannot be sent yet: <router-link to="/settings?part=channels">Settings</router-link> has a place for
    the mail server and the text gateway.
  </p>
</template>

<style scoped>
.none {
  font-size: 14px;
  margin: 0;
}
</style>
