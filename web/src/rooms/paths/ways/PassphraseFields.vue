<script setup lang="ts">
// Private passphrases: the pool of VLANs for private groups.
import { computed } from 'vue'

import type { PassphraseWay } from '../../../api/client'

const way = defineModel<PassphraseWay>({ required: true })
defineProps<{ faults: string[] }>()
const read = (text: string) => (text.trim() === '' ? null : Number(text))
const count = computed(() =>
  way.value.first_vlan && way.value.last_vlan ? way.value.last_vlan - way.value.first_vlan + 1 : 0,
)
</script>

<template>
  <div class="settings">
    <v-text-field
      :model-value="way.first_vlan?.toString() ?? ''"
      label="Private groups from VLAN"
      placeholder="no groups"
      persistent-placeholder
      inputmode="numeric"
      :error-messages="faults"
      @update:model-value="(text: string) => (way.first_vlan = read(text))"
    />
    <v-text-field
      :model-value="way.last_vlan?.toString() ?? ''"
      label="to VLAN"
      placeholder="no groups"
      persistent-placeholder
      inputmode="numeric"
      @update:model-value="(text: string) => (way.last_vlan = read(text))"
    />
    <p class="soft">
      {{
        count > 0
          ? `${count} groups: the devices of one passphrase see each other there, and nobody else's.`
          : 'Without a pool all devices are placed as the rules say.'
      }}
    </p>
  </div>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: minmax(0, 220px) minmax(0, 160px) minmax(0, 1fr);
  gap: 16px;
  align-items: start;
  padding: 10px 0 4px;
}
p {
  margin: 8px 0 0;
  font-size: 14px;
}
</style>
