<script setup lang="ts">
// A passphrase that somebody was shown: large enough to type from, and the QR code that joins.
import { computed } from 'vue'

import type { Revealed } from '../../api/client'

const props = defineProps<{ shown: Revealed }>()
const picture = computed(() => `data:image/svg+xml;utf8,${encodeURIComponent(props.shown.qr)}`)
</script>

<template>
  <div class="key">
    <img :src="picture" alt="QR code that joins the Wi-Fi" />
    <div>
      <p class="mono">{{ shown.passphrase }}</p>
      <div v-if="shown.page" class="links">
        <a :href="shown.page" target="_blank" rel="noopener">Their own page</a>
        <slot></slot>
      </div>
      <p v-else class="why">
        There is no link to their own page: the guest page uses plain HTTP, so anyone who intercepted the link
        could read the passphrase. Start <code>lauschen serve</code> with a certificate and a
        <code>--page-url</code>
        that begins with https.
      </p>
    </div>
  </div>
</template>

<style scoped>
.key {
  display: grid;
  grid-template-columns: 132px minmax(0, 1fr);
  gap: 14px;
  align-items: center;
  background: #fff;
  color: #17121a;
  border: 1px dashed #b9b0a5;
  padding: 10px;
  margin: 10px 0;
}
img {
  width: 132px;
  height: 132px;
}
p {
  margin: 0 0 8px;
  font-size: 17px;
  font-weight: 700;
  line-height: 1.35;
  overflow-wrap: anywhere;
}
p.why {
  margin: 0;
  font-size: 13px;
  font-weight: 400;
}
.links {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 12px;
  align-items: center;
}
.key a {
  color: #5b2a4e;
  font-size: 14px;
}
</style>
