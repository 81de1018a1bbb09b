<script setup lang="ts">
// How access points of a dialect ask which private passphrase a device has.
import { computed } from 'vue'

import type { Dialect } from '../../api/client'

const by = defineModel<NonNullable<Dialect['keys_by']>>('by', { required: true })
const handshake = defineModel<NonNullable<Dialect['handshake']>>('handshake', { required: true })
defineProps<{ faults: string[] }>()
const WAYS = [
  {
    value: 'mac',
    title: 'by the device’s address',
    hint: 'A known device gets its passphrase; for an unknown one the access point tries those that it may have.',
  },
  {
    value: 'handshake',
    title: 'by the handshake',
    hint: 'The request carries the nonce and the device’s EAPOL-Key frame, which say at once which one it has.',
  },
  {
    value: 'file',
    title: 'not at all: it has a file',
    hint: 'Lauschen keeps a hostapd file of all of them; docs/passphrases.md says how.',
  },
] as const
const hint = computed(() => WAYS.find((one) => one.value === by.value)?.hint)
</script>

<template>
  <v-select
    v-model="by"
    label="Private passphrases are asked for"
    :items="WAYS"
    :hint="hint"
    persistent-hint
    :error-messages="faults"
  />
  <div v-if="by === 'handshake'" class="three">
    <v-text-field v-model.number="handshake.enterprise" label="Enterprise" inputmode="numeric" />
    <v-text-field v-model.number="handshake.nonce" label="Nonce" inputmode="numeric" />
    <v-text-field v-model.number="handshake.frame" label="Frame" inputmode="numeric" />
  </div>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: 1.4fr 1fr 1fr;
  gap: 10px;
}
</style>
