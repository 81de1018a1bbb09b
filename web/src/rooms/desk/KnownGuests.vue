<script setup lang="ts">
// Guests of that name who had something before: one press takes their plan and where it was sent.
import { ref, watch } from 'vue'

import { api, got, type Known } from '../../api/client'
import { wayWords } from '../../parts/words'
import { useAct } from '../../use/useAct'
import { useTimes } from '../../use/useTimes'

const props = defineProps<{ name: string }>()
const emit = defineEmits<{ take: [known: Known] }>()
const SHORTEST = 3
const WAIT_MS = 200
const { read } = useAct()
const times = useTimes()
const found = ref<Known[]>([])
let asked = 0

watch(
  () => props.name,
  (name) => {
    const mine = ++asked
    if (name.trim().length < SHORTEST) {
      found.value = []
      return
    }
    setTimeout(async () => {
      if (mine !== asked) return
      const query = { name: name.trim() }
      const known = (await read(() => got(api.GET('/api/desk/known', { params: { query } })))) ?? []
      if (mine === asked) found.value = known
    }, WAIT_MS)
  },
)
function take(one: Known): void {
  found.value = []
  asked += 1
  emit('take', one)
}
defineExpose({ takeFirst: () => found.value[0] && take(found.value[0]) })
</script>

<template>
  <p v-if="found.length" class="known" role="status">
    <span class="soft">Here before:</span>
    <button v-for="one in found" :key="one.label" type="button" @click="take(one)">
      <b>{{ one.label }}</b>
      <span class="soft">
        {{ one.plan_name }}, {{ wayWords(one.way) }}, {{ times.clock(one.at)
        }}{{ one.sent ? `, sent to ${one.sent.to}` : '' }}
      </span>
    </button>
    <span class="soft"><kbd>Alt</kbd> <kbd>↓</kbd> takes the first</span>
  </p>
</template>

<style scoped>
.known {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  margin: 8px 0 0;
  font-size: 14px;
}
.known button {
  text-align: left;
}
.known b {
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
