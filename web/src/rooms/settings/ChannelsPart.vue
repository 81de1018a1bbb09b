<script setup lang="ts">
// The mail server and the text gateway, each in a sentence that opens its form; and what a month cost.
import { computed, ref } from 'vue'

import type { Settings } from '../../api/client'
import MailForm from './MailForm.vue'
import ReceiversPart from './ReceiversPart.vue'
import TextForm from './TextForm.vue'

const props = defineProps<{ settings: Settings }>()
const emit = defineEmits<{ saved: [] }>()
const editing = ref<'mail' | 'text' | null>(null)

const mail = computed(() => {
  const server = props.settings.mail
  if (!server) return 'No mail server is set: passes cannot be sent by mail.'
  const how = server.security === 'tls' ? 'TLS from the first octet' : 'STARTTLS'
  const who = server.user ? `as ${server.user}` : 'without a log-in'
  const trust = server.authority
    ? 'an authority of the house’s own'
    : 'the authorities that the system trusts'
  return [
    `Mail leaves by ${server.host}, port ${server.port}, with ${how}, ${who}.`,
    `Its certificate is checked against ${trust}. Guests see ${server.sender}.`,
  ].join(' ')
})
const text = computed(() => {
  const gateway = props.settings.text
  if (!gateway) return 'No text gateway is set: passes cannot be sent as text messages.'
  const price = gateway.price ? `, ${gateway.price} ${gateway.currency} each` : ''
  const where = `to numbers of ${gateway.countries.join(', ')}`
  return `Text messages leave by ${gateway.call.url}, ${where}, at most ${gateway.texts_day} a day${price}.`
})
const months = computed(() => {
  const found = new Map<string, string[]>()
  for (const cost of props.settings.costs) {
    const what = { mail: 'mail', text: 'text message', syslog: 'syslog line', webhook: 'call' }[cost.channel]
    const said = `${cost.count} ${what}${cost.count === 1 ? '' : 's'}${cost.price ? ` for ${cost.price}` : ''}`
    found.set(cost.month, [...(found.get(cost.month) ?? []), said])
  }
  return [...found].map(([month, said]) => ({ month: name(month), said: said.join(', ') }))
})
function name(month: string): string {
  const [year, number] = month.split('-').map(Number)
  const at = new Date(Date.UTC(year ?? 1970, (number ?? 1) - 1))
  return at.toLocaleDateString('en-GB', { month: 'long', year: 'numeric', timeZone: 'UTC' })
}
function saved(): void {
  editing.value = null
  emit('saved')
}
</script>

<template>
  <section>
    <h2>
      Mail
      <button v-if="editing !== 'mail'" class="changes change" @click="editing = 'mail'">
        {{ settings.mail ? 'change' : 'set it up' }}
      </button>
    </h2>
    <MailForm v-if="editing === 'mail'" :server="settings.mail" @saved="saved" @close="editing = null" />
    <p v-else class="said">{{ mail }}</p>
  </section>
  <section>
    <h2>
      Text messages
      <button v-if="editing !== 'text'" class="changes change" @click="editing = 'text'">
        {{ settings.text ? 'change' : 'set it up' }}
      </button>
    </h2>
    <TextForm v-if="editing === 'text'" :gateway="settings.text" @saved="saved" @close="editing = null" />
    <p v-else class="said">{{ text }}</p>
  </section>
  <ReceiversPart :settings="settings" @saved="emit('saved')" />
  <section>
    <h2>What was sent</h2>
    <p v-for="one in months" :key="one.month" class="said">
      <b>{{ one.month }}</b> {{ one.said }}
    </p>
    <p v-if="!months.length" class="said soft">
      Nothing yet. Each month stands here with its number of messages and what they cost.
    </p>
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid rgb(var(--v-theme-hair));
  padding: 14px 0 18px;
}
.said {
  max-width: 68em;
  margin: 4px 0 0;
}
.said b {
  display: inline-block;
  min-width: 9.5em;
}
.change {
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
  font-weight: 400;
  font-size: 14px;
  margin-left: 8px;
}
</style>
