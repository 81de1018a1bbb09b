<script setup lang="ts">
// The shapes of device states: nothing else on a screen may wear them.
defineProps<{ state: string; going?: string | null }>()
</script>

<template>
  <svg class="mark" :class="state" viewBox="0 0 16 16" width="16" height="16" aria-hidden="true">
    <circle
      v-if="state === 'at_door'"
      cx="8"
      cy="8"
      r="5.5"
      fill="none"
      stroke="currentColor"
      stroke-width="2.2"
    />
    <circle v-else-if="state === 'inside'" cx="8" cy="8" r="6.5" fill="currentColor" />
    <g v-else-if="state === 'held'">
      <circle cx="8" cy="8" r="5.7" fill="none" stroke="currentColor" stroke-width="1.8" />
      <path d="M8 2.300a5.7 5.7 0 0 0 0 11.400z" fill="currentColor" />
    </g>
    <g v-else-if="state === 'barred'" fill="none" stroke="currentColor" stroke-width="1.9">
      <rect x="2.2" y="2.2" width="11.6" height="11.6" rx="1.5" />
      <path d="M3 13 13 3" />
    </g>
    <path v-else d="M4.5 8h7" stroke="currentColor" stroke-width="2.4" stroke-linecap="round" />
    <path
      v-if="going"
      class="way"
      :d="going === 'inside' ? 'M11 1.500h4v4M15 1.500l-5 5' : 'M1.5 11v4h4M1.5 15l5-5'"
      fill="none"
      stroke="currentColor"
      stroke-width="1.6"
    />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
  vertical-align: -3px;
  overflow: visible;
}
.at_door {
  color: rgb(var(--v-theme-door));
}
.inside {
  color: rgb(var(--v-theme-inside));
}
.held {
  color: rgb(var(--v-theme-held));
}
.barred {
  color: rgb(var(--v-theme-barred));
}
.left {
  color: rgb(var(--v-theme-left));
}
.way {
  color: rgb(var(--v-theme-primary));
}
</style>
