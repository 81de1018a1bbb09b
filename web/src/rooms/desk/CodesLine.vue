<script setup lang="ts">
// What a guesser's chance is with so many codes of this length, and the fewest signs that are safe.
import { ref, watch } from 'vue'

import { api, got, type CodesWords } from '../../api/client'
import { useAct } from '../../use/useAct'

const props = defineProps<{ count: number; length: number }>()
const emit = defineEmits<{ length: [signs: number] }>()
const WAIT_MS = 300
const { read } = useAct()
const said = ref<CodesWords | null>(null)
let asked = 0

watch(
  () => [props.count, props.length] as const,
  ([count, length]) => {
    const mine = ++asked
    setTimeout(async () => {
      if (mine !== asked || !(count >= 1)) return
      const found = await read(() => got(api.POST('/api/batches/words', { body: { count, length } })))
      if (mine === asked) said.value = found ?? null
    }, WAIT_MS)
  },
  { immediate: true },
)
</script>

<template>
  <p v-if="said" class="says" :class="{ unsafe: !said.is_safe }" role="status">
    {{ said.text }}
    <v-btn
      v-if="!said.is_safe && said.shortest !== length"
      size="x-small"
      @click="emit('length', said.shortest)"
    >
      {{ said.shortest }} signs
    </v-btn>
  </p>
</template>

<style scoped>
.says {
  color: rgb(var(--v-theme-soft));
}
.unsafe {
  color: rgb(var(--v-theme-barred));
}
</style>
