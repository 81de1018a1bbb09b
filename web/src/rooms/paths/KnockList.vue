<script setup lang="ts">
// Who knocks: packets from addresses that are no access device, with what they claim. None of it is believed.
import { computed } from 'vue'

import type { Knock, Paths } from '../../api/client'
import { useTimes } from '../../use/useTimes'
import DeviceForm from './DeviceForm.vue'

const props = defineProps<{ paths: Paths; open: string | null }>()
const emit = defineEmits<{ open: [address: string | null]; taken: [id: number, secret: string | null] }>()
const times = useTimes()
const opened = computed(() => props.paths.knocks.find((k) => k.address === props.open) ?? null)
function claims(knock: Knock): string {
  const said = [
    knock.nas_identifier && `calls itself ${knock.nas_identifier}`,
    knock.ssid && `SSID ${knock.ssid}`,
  ].filter(Boolean)
  return said.join(', ') || 'claims nothing'
}
</script>

<template>
  <section aria-label="Knocks">
    <h2>Knocks</h2>
    <ul v-if="paths.knocks.length">
      <li v-for="knock in paths.knocks" :key="knock.address">
        <div class="line">
          <span
            ><span class="mono">{{ knock.address }}</span> · {{ knock.kind }}, {{ claims(knock)
            }}<template v-if="knock.says_it_is"
              >; <strong>{{ knock.says_it_is }} is registered at another address</strong></template
            ></span
          >
          <span class="soft"
            >{{ knock.packets === 1 ? 'one packet' : `${knock.packets} packets` }}, last
            {{ times.ago(knock.last) }}</span
          >
          <v-btn
            class="changes"
            size="x-small"
            :aria-expanded="opened === knock"
            @click="emit('open', opened === knock ? null : knock.address)"
            >Take in</v-btn
          >
        </div>
        <div v-if="opened === knock" class="form">
          <DeviceForm
            wide
            :knock="knock"
            :paths="paths"
            @saved="(id, secret) => emit('taken', id, secret)"
            @close="emit('open', null)"
          />
        </div>
      </li>
    </ul>
    <p v-else class="soft">
      Nobody knocks. An access device that asks before it is known appears here and can be taken in.
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
