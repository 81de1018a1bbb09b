<script setup lang="ts">
// Packets from addresses that are not an access device, with what they claim. None of it is believed.
import { computed } from 'vue'

import type { UnknownAccessDevice, Networks } from '../../api/client'
import { useTimes } from '../../use/useTimes'
import DeviceForm from './DeviceForm.vue'

const props = defineProps<{ setup: Networks; open: string | null }>()
const emit = defineEmits<{ open: [address: string | null]; taken: [id: number, secret: string | null] }>()
const times = useTimes()
const opened = computed(
  () => props.setup.unknown_access_devices.find((k) => k.address === props.open) ?? null,
)
function claims(unknown: UnknownAccessDevice): string {
  const said = [
    unknown.nas_identifier && `calls itself ${unknown.nas_identifier}`,
    unknown.ssid && `SSID ${unknown.ssid}`,
  ].filter(Boolean)
  return said.join(', ') || 'claims nothing'
}
</script>

<template>
  <section aria-label="Unknown access devices">
    <h2>Unknown access devices</h2>
    <ul v-if="setup.unknown_access_devices.length">
      <li v-for="unknown in setup.unknown_access_devices" :key="unknown.address">
        <div class="line">
          <span
            ><span class="mono">{{ unknown.address }}</span> · {{ unknown.kind }}, {{ claims(unknown)
            }}<template v-if="unknown.says_it_is"
              >; <strong>{{ unknown.says_it_is }} is registered at another address</strong></template
            ></span
          >
          <span class="soft"
            >{{ unknown.packets === 1 ? 'one packet' : `${unknown.packets} packets` }}, last
            {{ times.ago(unknown.last) }}</span
          >
          <v-btn
            class="changes"
            size="x-small"
            :aria-expanded="opened === unknown"
            @click="emit('open', opened === unknown ? null : unknown.address)"
            >Add</v-btn
          >
        </div>
        <div v-if="opened === unknown" class="form">
          <DeviceForm
            wide
            :unknown="unknown"
            :setup="setup"
            @saved="(id, secret) => emit('taken', id, secret)"
            @close="emit('open', null)"
          />
        </div>
      </li>
    </ul>
    <p v-else class="soft">
      None. An access device that sends RADIUS packets before you added it appears here.
    </p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 6px 0;
  font-size: 14.5px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  align-items: baseline;
  justify-content: space-between;
}
.line > span:first-child {
  flex: 1;
}
.form {
  padding: 12px 0;
}
p {
  font-size: 14.5px;
  margin: 4px 0;
}
</style>
