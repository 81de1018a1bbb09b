<script setup lang="ts">
import { computed } from 'vue'

import { useLive } from '../stores/live'
import { useTimes } from '../use/useTimes'

const live = useLive()
const times = useTimes()
const bars = computed(() => {
  const counts = live.now?.bars ?? []
  const most = Math.max(4, ...counts)
  return counts.map((count) => 3 + Math.round((17 * count) / most))
})
</script>

<template>
  <button class="line" :aria-expanded="live.isLogOpen" @click="live.isLogOpen = !live.isLogOpen">
    <svg
      class="bars"
      :viewBox="`0 0 ${bars.length * 5} 20`"
      :width="bars.length * 5"
      height="20"
      aria-hidden="true"
    >
      <rect
        v-for="(height, at) in bars"
        :key="at"
        :x="at * 5"
        :y="20 - height"
        width="3"
        :height="height"
        rx="1"
      />
    </svg>
    <template v-if="live.now?.line">
      <span class="mono at">{{ times.second(live.now.line.at) }}</span>
      <span class="text" aria-live="off">{{ live.now.line.text }}</span>
    </template>
    <span v-else-if="live.now" class="text">Nothing heard since the start. Point an access device here.</span>
    <span class="more">
      {{
        live.isConnected
          ? `${live.now?.last_minute ?? 0} heard in the last minute`
          : live.now
            ? 'connection lost, trying again'
            : ''
      }}
      <kbd>l</kbd> log
    </span>
  </button>
</template>

<style scoped>
.line {
  position: fixed;
  inset: auto 0 0;
  height: var(--bar);
  z-index: 30;
  display: flex;
  align-items: center;
  gap: 18px;
  padding: 0 20px;
  text-align: left;
  background: rgb(var(--v-theme-bar));
  color: #f6ecf3;
  font-size: 14.5px;
}
.line:focus-visible {
  outline-offset: -4px;
}
.bars {
  flex: none;
  fill: #d9b7cf;
}
.at {
  opacity: 0.85;
  font-size: 13.5px;
}
.text {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  font-weight: 700;
}
.more {
  flex: none;
  opacity: 0.9;
  font-size: 13.5px;
}
@media (max-width: 700px) {
  .bars,
  .more {
    display: none;
  }
  .line {
    gap: 10px;
    padding: 0 12px;
  }
}
</style>
