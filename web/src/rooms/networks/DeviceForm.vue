<script setup lang="ts">
// An access device, new, changed, or added from an unknown one.
import { computed, ref } from 'vue'

import { api, got, type AccessDevice, type UnknownAccessDevice, type Networks } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{
  device?: AccessDevice
  unknown?: UnknownAccessDevice
  setup: Networks
  wide?: boolean
}>()
const emit = defineEmits<{ saved: [id: number, secret: string | null]; close: [] }>()
const { isBusy, problem, act, read, fault } = useAct()
const d = props.device
const form = ref({
  name: d?.name ?? props.unknown?.nas_identifier ?? '',
  address: d?.address ?? props.unknown?.address ?? '',
  dialect: d?.dialect ?? props.setup.dialects[0]?.id ?? 0,
  coa_port: d?.coa_port ?? 3799,
  coa_address: d?.coa_address ?? '',
  hears_unsigned: d?.hears_unsigned ?? false,
  tls_identity: d?.tls_identity ?? '',
  serves: [...(d?.serves ?? proposed())],
})
/** The network that it was heard asking for; else the only one that there is. */
function proposed(): number[] {
  const asked = props.setup.networks.filter(
    (n) => n.ssid?.match === 'exact' && n.ssid.value === props.unknown?.ssid,
  )
  const all = asked.length ? asked : props.setup.networks
  return all.length === 1 ? [all[0]!.id] : []
}
const servesHint = computed(() =>
  form.value.serves.length
    ? 'Requests for other networks are refused.'
    : 'None: nobody gets in at this access device.',
)
const secret = ref('')
const verdict = ref('')
const VERDICTS: Record<string, string> = {
  fits: 'This is the secret that it signs with.',
  differs: 'It signs with another secret.',
  unsigned: 'The packet that was kept is not signed, so this cannot be told.',
}

async function tryIt(): Promise<void> {
  if (!props.unknown || !secret.value) return
  // Beside others: leaving the field by Enter or by the button tries the secret and sends the form.
  const answer = await read(() =>
    got(
      api.POST('/api/unknown-access-devices/{address}/try-secret', {
        params: { path: { address: props.unknown!.address } },
        body: { secret: secret.value },
      }),
    ),
  )
  verdict.value = answer ? (VERDICTS[answer.verdict] ?? '') : ''
}

async function save(): Promise<void> {
  const body = {
    ...form.value,
    coa_address: form.value.coa_address || null,
    tls_identity: form.value.tls_identity || null,
  }
  const fresh = { ...body, secret: secret.value }
  const saved = await act(() => {
    if (d) return got(api.PUT('/api/access-devices/{device}', { params: { path: { device: d.id } }, body }))
    if (props.unknown)
      return got(
        api.POST('/api/unknown-access-devices/{address}/add', {
          params: { path: { address: props.unknown.address } },
          body: fresh,
        }),
      )
    return got(api.POST('/api/access-devices', { body: fresh }))
  })
  if (saved) emit('saved', saved.id, d ? null : secret.value)
}
</script>

<template>
  <form aria-label="Access device" :class="{ wide }" @submit.prevent="save">
    <v-text-field v-model="form.name" label="Name" required maxlength="60" :error-messages="fault('name')" />
    <v-text-field
      v-model="form.address"
      label="Address it asks from"
      hint="An IPv4 or IPv6 address, or a range such as 10.77.0.0/24."
      persistent-hint
      class="mono"
      required
      maxlength="18"
      :error-messages="fault('address')"
    />
    <v-text-field
      v-if="!d"
      v-model="secret"
      label="Shared secret"
      :hint="verdict || 'At least 8 characters; it is never shown again.'"
      persistent-hint
      class="mono"
      required
      minlength="8"
      maxlength="128"
      autocomplete="off"
      spellcheck="false"
      :error-messages="fault('secret')"
      @change="tryIt"
    />
    <v-select
      v-model="form.dialect"
      label="Dialect"
      :hint="setup.dialects.find((x) => x.id === form.dialect)?.sentence"
      persistent-hint
      :items="setup.dialects"
      item-title="name"
      item-value="id"
      :error-messages="fault('dialect')"
    />
    <v-select
      v-model="form.serves"
      label="Networks that it serves"
      :hint="servesHint"
      persistent-hint
      multiple
      :items="setup.networks"
      item-title="name"
      item-value="id"
      :error-messages="fault('serves')"
    />
    <details :open="!!(form.coa_address || form.tls_identity || form.hears_unsigned)">
      <summary>Where changes go, certificate, old firmware</summary>
      <div class="stack">
        <div class="pair">
          <v-text-field
            v-model="form.coa_address"
            label="Changes go to"
            hint="Empty: to where its requests come from."
            persistent-hint
            class="mono"
            :error-messages="fault('coa_address')"
          />
          <v-text-field
            v-model.number="form.coa_port"
            label="at port"
            inputmode="numeric"
            :error-messages="fault('coa_port')"
          />
        </div>
        <v-text-field
          v-model="form.tls_identity"
          label="Its certificate, for RADIUS over TLS"
          hint="SHA-256 fingerprint, or a name in the certificate."
          persistent-hint
          class="mono"
          :error-messages="fault('tls_identity')"
        />
        <v-checkbox
          v-model="form.hears_unsigned"
          label="Hear requests without Message-Authenticator, of old firmware"
          hint="Only for a single address; ends by itself at the first signed packet."
          persistent-hint
          :error-messages="fault('hears_unsigned')"
        />
      </div>
    </details>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ d ? 'Save' : 'Add' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
    </div>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: 14px 28px;
  align-items: start;
  max-width: 900px;
}
.wide {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
.wide > details,
.wide > .acts,
.wide > :deep(.problem) {
  grid-column: 1 / -1;
}
summary {
  margin-bottom: 10px;
}
.pair {
  grid-template-columns: 1fr 110px;
}
</style>
