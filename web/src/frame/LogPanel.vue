<script setup lang="ts">
import { mdiClose } from '@mdi/js'

import { useKeys } from '../use/useKeys'
import { useLog } from '../use/useLog'
import LogLines from '../parts/LogLines.vue'
import ProblemNote from '../parts/ProblemNote.vue'
import ReadingState from '../parts/ReadingState.vue'

const emit = defineEmits<{ close: [] }>()
const { reading, lines, isBusy, problem, older } = useLog()
useKeys({ Escape: () => emit('close') })
</script>

<template>
  <section class="panel" aria-label="Log">
    <header>
      <h2>Heard and decided</h2>
      <v-btn :icon="mdiClose" size="small" variant="text" aria-label="Close the log" @click="emit('close')" />
    </header>
    <div class="scroll" tabindex="0">
      <ReadingState :of="reading" />
      <LogLines :lines="lines" />
      <p v-if="reading.found.value && !lines.length" class="soft">Nothing yet.</p>
      <ProblemNote :problem="problem" />
      <v-btn v-if="lines.length" class="mt-3" :disabled="isBusy" @click="older">Earlier</v-btn>
    </div>
  </section>
</template>

<style scoped>
.panel {
  position: fixed;
  inset: auto 0 var(--bar);
  height: min(56vh, 460px);
  z-index: 25;
  padding: 8px 20px 0;
  background: rgb(var(--v-theme-surface));
  border-top: 2px solid rgb(var(--v-theme-bar));
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
.scroll {
  overflow-y: auto;
  flex: 1;
  padding-bottom: 12px;
}
</style>
