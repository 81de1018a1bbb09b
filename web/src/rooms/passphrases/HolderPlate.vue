<script setup lang="ts">
// One plate of the house plan: a name, a peg for each device that it is for, and what must be known of it.
import { computed } from 'vue'

import type { Holder } from '../../api/client'

const MOST_PEGS = 8
const props = defineProps<{ holder: Holder; isOpen: boolean }>()
defineEmits<{ open: [] }>()
const isOver = computed(() => !['fresh', 'running', 'paused'].includes(props.holder.state))
/** Inside, joined before, free; of those that are for many, the first. */
const pegs = computed(() => {
  const one = props.holder
  const all = Math.min(MOST_PEGS, Math.max(one.devices, one.seats ?? one.devices))
  return Array.from({ length: all }, (_, n) =>
    n < one.devices_in ? 'in' : n < one.devices ? 'away' : 'free',
  )
})
const pegWords = computed(() => {
  const { devices, devices_in, seats } = props.holder
  return `${devices_in} inside, ${devices} joined${seats === null ? '' : `, for ${seats}`}`
})
</script>

<template>
  <button
    class="plate"
    :class="{
      on: isOpen,
      unused: holder.never_used && !isOver,
      full: holder.is_shared && !isOver,
      over: isOver,
    }"
    :aria-pressed="isOpen"
    @click="$emit('open')"
  >
    <span class="name">{{ holder.name }}</span>
    <span class="pegs" role="img" :aria-label="pegWords">
      <i v-for="(peg, n) in pegs" :key="n" :class="peg"></i>
      <span v-if="holder.group" class="soft group" title="Its devices see each other, and nobody else's"
        >VLAN {{ holder.group }}</span
      >
    </span>
    <span class="soft words">{{ holder.sentence }}</span>
  </button>
</template>

<style scoped>
.plate {
  display: grid;
  gap: 4px;
  width: 100%;
  height: 100%;
  align-content: start;
  text-align: left;
  padding: 9px 12px 10px;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-hair));
  border-radius: 6px;
}
.plate.unused {
  border-style: dashed;
  border-color: rgb(var(--v-theme-left));
}
.plate.full {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding-left: 9px;
}
.plate.on {
  outline: 2px solid rgb(var(--v-theme-primary));
}
.plate.over .name {
  text-decoration: line-through;
}
.name {
  font-weight: 700;
  overflow-wrap: anywhere;
}
.pegs {
  display: flex;
  gap: 5px;
  align-items: center;
  min-height: 14px;
}
.pegs i {
  width: 9px;
  height: 9px;
  border-radius: 2px;
  border: 1.5px solid rgb(var(--v-theme-inside));
}
.pegs i.in {
  background: rgb(var(--v-theme-inside));
}
.pegs i.free {
  border: 0;
  width: 9px;
  height: 2px;
  background: rgb(var(--v-theme-hair));
}
.group {
  margin-left: auto;
  font-size: 12.5px;
}
.words {
  font-size: 13.5px;
  line-height: 1.3;
}
</style>
