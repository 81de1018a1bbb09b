<script setup lang="ts">
// A syslog server or a webhook: where it is, and what it is told.
import { computed, ref } from 'vue'

import { api, got, type Settings, type Syslog, type Webhook } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{
  kind: 'syslog' | 'webhooks'
  one: Syslog | Webhook | null
  heard: Settings['heard']
}>()
const emit = defineEmits<{ saved: [secret: string | null]; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const line = props.one && 'host' in props.one ? props.one : null
const hook = props.one && 'url' in props.one ? props.one : null
const TRANSPORTS = [
  { value: 'tls', title: 'TLS (usually port 6514)' },
  { value: 'tcp', title: 'TCP, readable on the way' },
  { value: 'udp', title: 'UDP, readable and unconfirmed (514)' },
]
const name = ref(props.one?.name ?? '')
const hears = ref([...(props.one?.hears ?? [])])
const host = ref(line?.host ?? '')
const port = ref(String(line?.port ?? 6514))
const transport = ref<NonNullable<Syslog['transport']>>(line?.transport ?? 'tls')
const facility = ref(String(line?.facility ?? 16))
const authority = ref(line?.authority ?? '')
const url = ref(hook?.url ?? '')
const secret = ref('')
const both = computed(() => ({ name: name.value, hears: hears.value }))
const asWebhook = computed(() => ({ ...both.value, url: url.value, secret: secret.value || null }))
const asSyslog = computed(() => ({
  ...both.value,
  host: host.value,
  port: Number(port.value),
  transport: transport.value,
  facility: Number(facility.value),
  authority: authority.value,
}))

async function save(): Promise<void> {
  const one = props.one
  const params = { path: { receiver: one?.id ?? 0 } }
  const saved = await act(async (): Promise<Webhook | Syslog> => {
    if (props.kind === 'webhooks') {
      const body = asWebhook.value
      return one
        ? got(api.PUT('/api/webhooks/{receiver}', { params, body }))
        : got(api.POST('/api/webhooks', { body }))
    }
    const body = asSyslog.value
    return one
      ? got(api.PUT('/api/syslog/{receiver}', { params, body }))
      : got(api.POST('/api/syslog', { body }))
  })
  if (saved) emit('saved', 'secret' in saved ? (saved.secret ?? null) : null)
}
</script>

<template>
  <form
    class="sheet"
    :aria-label="kind === 'syslog' ? 'A syslog server' : 'A webhook'"
    @submit.prevent="save"
  >
    <div class="columns">
      <v-text-field v-model="name" label="Name" maxlength="60" required :error-messages="fault('name')" />
      <template v-if="kind === 'syslog'">
        <v-select v-model="transport" label="By" :items="TRANSPORTS" />
        <v-text-field v-model="host" label="Server" required :error-messages="fault('host')" />
        <div class="pair">
          <v-text-field v-model="port" label="Port" inputmode="numeric" :error-messages="fault('port')" />
          <v-text-field
            v-model="facility"
            label="Facility, 0 to 23"
            inputmode="numeric"
            :error-messages="fault('facility')"
          />
        </div>
        <v-textarea
          v-if="transport === 'tls'"
          v-model="authority"
          class="mono"
          label="Authority of the house’s own (PEM)"
          rows="2"
          spellcheck="false"
          :error-messages="fault('authority')"
        />
      </template>
      <template v-else>
        <v-text-field
          v-model="url"
          label="Address"
          placeholder="https://"
          persistent-placeholder
          required
          :error-messages="fault('url')"
        />
        <v-text-field
          v-model="secret"
          label="Secret"
          type="password"
          autocomplete="new-password"
          :placeholder="one ? 'kept as it is' : 'one is made, and shown once'"
          persistent-placeholder
          :error-messages="fault('secret')"
        />
      </template>
    </div>
    <fieldset>
      <legend>It is told of</legend>
      <v-checkbox v-for="h in heard" :key="h.word" v-model="hears" :value="h.word" :label="h.meaning" />
    </fieldset>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">{{
        one ? 'Save' : 'Add'
      }}</v-btn>
      <v-btn variant="text" @click="emit('close')">Back</v-btn>
      <RemoveButton
        v-if="one"
        :remove="() => api.DELETE('/api/receivers/{receiver}', { params: { path: { receiver: one!.id } } })"
        label="Remove"
        @removed="emit('saved', null)"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  margin: 12px 0;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 10px;
}
legend {
  font-size: 14px;
  color: rgb(var(--v-theme-soft));
}
</style>
