<script setup lang="ts">
// The last packets of an access device: each attribute in words and as octets. Secrets were never kept.
import { watch } from 'vue'

import { api, got } from '../../api/client'
import ReadingState from '../../parts/ReadingState.vue'
import { useReading } from '../../use/useReading'
import { useTimes } from '../../use/useTimes'
import PacketLines from './PacketLines.vue'

const props = defineProps<{ device: number }>()
const path = () => ({ device: props.device })
const reading = useReading(() =>
  got(api.GET('/api/access-devices/{device}/packets', { params: { path: path() } })),
)
const { found: packets, load } = reading
const times = useTimes()

watch(
  () => props.device,
  () => {
    packets.value = null
    void load()
  },
  { immediate: true },
)
</script>

<template>
  <section>
    <div class="head">
      <h2>Last packets</h2>
      <v-btn size="x-small" @click="load">Look again</v-btn>
    </div>
    <p class="soft small">
      A few of each second and all that were dropped; gone at a restart. Passwords and states are not kept.
    </p>
    <ReadingState :of="reading" />
    <details v-for="(packet, n) in packets ?? []" :key="n">
      <summary>
        <span class="mono">{{ times.second(packet.at) }}</span> {{ packet.kind }}
        <span :class="packet.outcome === 'answered' ? 'soft' : 'dropped'">{{
          packet.reply_kind ?? packet.outcome
        }}</span>
      </summary>
      <PacketLines :lines="packet.lines" />
      <template v-if="packet.reply_kind"
        ><p class="answer">{{ packet.reply_kind }}</p>
        <PacketLines :lines="packet.reply"
      /></template>
    </details>
    <p v-if="packets && !packets.length" class="soft">Nothing since the start.</p>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.small {
  font-size: 13px;
  margin: 0 0 6px;
}
details {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  font-size: 14px;
}
summary {
  cursor: pointer;
  padding: 5px 0;
}
.dropped {
  color: rgb(var(--v-theme-barred));
}
.answer {
  font-weight: 700;
  margin: 8px 0 0;
  font-size: 14px;
}
</style>
