<script setup lang="ts">
// Devices that tried a passphrase which does not hold: since yesterday, the newest first.
import { computed, ref } from 'vue'

import type { WrongKey } from '../../api/client'
import { useTimes } from '../../use/useTimes'

const FEW = 3
const props = defineProps<{ wrong: WrongKey[] }>()
const times = useTimes()
const isWhole = ref(false)
const shown = computed(() => (isWhole.value ? props.wrong : props.wrong.slice(0, FEW)))
</script>

<template>
  <section v-if="wrong.length" class="wrong" aria-label="Tried in vain">
    <h2>Tried in vain since yesterday</h2>
    <ul>
      <li v-for="one in shown" :key="`${one.mac} ${one.place}`">
        <span class="mono">{{ one.mac }}</span>
        {{ ` ${one.sentence}, ` }}
        <span :title="times.exact(one.last_at)">last {{ times.ago(one.last_at) }}</span>
      </li>
    </ul>
    <v-btn v-if="wrong.length > FEW" size="x-small" @click="isWhole = !isWhole">{{
      isWhole ? 'Fewer' : `${wrong.length - FEW} more`
    }}</v-btn>
    <p class="soft">
      Let them forget the Wi-Fi, and scan the QR code or type the passphrase anew. Whoever goes on trying is
      looked at more seldom, and harms nobody else.
    </p>
  </section>
</template>

<style scoped>
.wrong {
  margin-top: 12px;
  border-left: 4px solid rgb(var(--v-theme-door));
  padding-left: 12px;
  font-size: 14.5px;
}
ul {
  list-style: none;
  margin: 2px 0;
  padding: 0;
}
li {
  padding: 2px 0;
}
p {
  margin: 2px 0 0;
  font-size: 13.5px;
}
</style>
