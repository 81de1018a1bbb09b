<script setup lang="ts">
// The mail server: where, how it is kept from others, and as whom.
import { ref } from 'vue'

import { api, got, type Mail } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import TestLine from './TestLine.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ server: Mail | null }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const SECURITY = [
  { value: 'starttls', title: 'STARTTLS (usually port 587)' },
  { value: 'tls', title: 'TLS from the first octet (465)' },
]
const form = ref({
  host: props.server?.host ?? '',
  port: String(props.server?.port ?? 587),
  security: props.server?.security ?? 'starttls',
  user: props.server?.user ?? '',
  sender: props.server?.sender ?? '',
  sender_name: props.server?.sender_name ?? '',
  authority: props.server?.authority ?? '',
  code_in_subject: props.server?.code_in_subject ?? false,
})
const password = ref('')
const kept = props.server?.has_password ? 'kept as it is' : 'none'
/** As it is sent; a password that nobody typed stays, unless there is nobody to log in as. */
const wanted = () => ({
  ...form.value,
  port: Number(form.value.port),
  password: form.value.user ? password.value || null : '',
})

async function save(): Promise<void> {
  if (await act(() => got(api.PUT('/api/mail', { body: wanted() })))) emit('saved')
}
const test = (to: string) => got(api.POST('/api/mail/test', { body: { server: wanted(), to } }))
</script>

<template>
  <form class="sheet" aria-label="The mail server" @submit.prevent="save">
    <div class="columns">
      <div class="pair">
        <v-text-field
          v-model="form.host"
          label="Server"
          placeholder="mail.house.example"
          persistent-placeholder
          required
          hint="One inside the house must be listed at start with --reach."
          persistent-hint
          :error-messages="fault('host')"
        />
        <v-text-field v-model="form.port" label="Port" inputmode="numeric" :error-messages="fault('port')" />
      </div>
      <v-select v-model="form.security" label="Kept from others by" :items="SECURITY" />
      <v-text-field
        v-model="form.user"
        label="Log-in, if it wants one"
        autocomplete="off"
        maxlength="200"
        :error-messages="fault('user')"
      />
      <v-text-field
        v-model="password"
        label="Password"
        type="password"
        autocomplete="new-password"
        maxlength="200"
        :placeholder="kept"
        persistent-placeholder
        :disabled="!form.user"
      />
      <v-text-field
        v-model="form.sender"
        label="Address that guests see"
        placeholder="desk@house.example"
        persistent-placeholder
        required
        :error-messages="fault('sender')"
      />
      <v-text-field
        v-model="form.sender_name"
        label="and its name"
        placeholder="the name of the house"
        persistent-placeholder
        maxlength="80"
      />
      <v-textarea
        v-model="form.authority"
        class="mono"
        label="Authority of the house’s own (PEM)"
        rows="2"
        spellcheck="false"
        hint="Empty: the certificate must be by an authority that the system trusts."
        persistent-hint
        :error-messages="fault('authority')"
      />
      <v-checkbox
        v-model="form.code_in_subject"
        label="The code stands in the subject"
        hint="Then it is read on a locked screen, by anybody."
        persistent-hint
      />
    </div>
    <TestLine label="Try it: mail to" :send="test" />
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">Save</v-btn>
      <v-btn variant="text" @click="emit('close')">Back</v-btn>
      <RemoveButton
        v-if="server"
        :remove="() => api.DELETE('/api/mail')"
        label="Send no mail"
        @removed="emit('saved')"
      />
      <span class="soft">What waits is tried again as soon as it is saved.</span>
    </div>
  </form>
</template>

<style scoped>
.columns {
  margin: 12px 0 16px;
}
.pair {
  grid-template-columns: 1fr 100px;
}
</style>
