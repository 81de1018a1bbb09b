<script setup lang="ts">
// Today's passcodes, large enough to read across a room.
import { onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, got, type Desk } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import PasscodesNow from '../desk/PasscodesNow.vue'

const { problem, read } = useAct()
const live = useLive()
const router = useRouter()
const desk = ref<Desk | null>(null)

async function load(): Promise<void> {
  desk.value = (await read(() => got(api.GET('/api/desk')))) ?? desk.value
}
onMounted(load)
watch(() => Math.floor((live.now?.at ?? 0) / 15), load)
useKeys({ Escape: () => void router.push('/desk') })
</script>

<template>
  <div class="room board">
    <h1 class="away">Passcodes</h1>
    <ProblemNote :problem="problem" />
    <PasscodesNow v-if="desk?.passcodes.length" :passcodes="desk.passcodes" is-board />
    <p v-else-if="desk" class="empty">
      No network takes a passcode, or none is for your eyes. <i>Paths</i>, stage <i>is asked</i>, offers one.
    </p>
  </div>
</template>

<style scoped>
.board {
  display: grid;
  align-content: center;
  min-height: calc(100vh - var(--top) - var(--bar));
}
</style>
