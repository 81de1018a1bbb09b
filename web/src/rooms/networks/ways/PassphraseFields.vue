<script setup lang="ts">
// Private passphrases: the pool of VLANs for private groups, and files for access points on this host.
import { computed } from 'vue'

import type { AccessDevice, PassphraseWay } from '../../../api/client'

const way = defineModel<PassphraseWay>({ required: true })
const props = defineProps<{ devices: AccessDevice[]; faults: string[] }>()
const read = (text: string) => (text.trim() === '' ? null : Number(text))
const count = computed(() =>
  way.value.first_vlan && way.value.last_vlan ? way.value.last_vlan - way.value.first_vlan + 1 : 0,
)
const places = computed(() => props.devices.map((one) => ({ title: one.name, value: one.id })))
const files = computed(() => way.value.files ?? [])
function add(): void {
  const place = props.devices[0]?.id ?? 0
  way.value.files = [...files.value, { access_device: place, file: 'keys.psk', interface: 'wlan0' }]
}
function take(at: number): void {
  way.value.files = files.value.filter((_, n) => n !== at)
}
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
  <div v-for="(one, n) in files" :key="n" class="file">
    <v-select v-model="one.access_device" label="Access point on this host" :items="places" />
    <v-text-field v-model="one.file" label="Its file" class="mono" maxlength="60" />
    <v-text-field v-model="one.interface" label="Its control socket" class="mono" maxlength="60" />
    <v-btn size="small" @click="take(n)">Remove</v-btn>
  </div>
  <div class="more">
    <v-btn size="x-small" variant="text" @click="add">Add a file for an access point that does not ask</v-btn>
    <span v-if="files.length" class="soft">
      Both names are in the folders that <span class="mono">lauschen serve</span> was told:
      <span class="mono">--key-files</span> and <span class="mono">--hostapd</span>.
    </span>
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
.file {
  display: grid;
  grid-template-columns: minmax(0, 220px) minmax(0, 1fr) minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
}
.more {
  display: flex;
  gap: 12px;
  align-items: center;
  font-size: 14px;
}
p {
  margin: 8px 0 0;
  font-size: 14px;
}
@media (max-width: 800px) {
  .settings,
  .file {
    grid-template-columns: 1fr;
  }
}
</style>
