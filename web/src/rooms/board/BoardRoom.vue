<script setup lang="ts">
// Today's passcodes, large enough to read across a room.
import { onMounted, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, got } from '../../api/client'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import PasscodesNow from '../desk/PasscodesNow.vue'

const reading = useReading(() => got(api.GET('/api/desk')))
const { found: desk, load } = reading
const live = useLive()
const router = useRouter()

onMounted(load)
watch(() => Math.floor((live.now?.at ?? 0) / 15), load)
useKeys({ Escape: () => void router.push('/desk') })
</script>

<template>
  <div class="room board">
    <h1 class="away">Passcodes</h1>
    <ReadingState :of="reading" />
    <PasscodesNow v-if="desk?.passcodes.length" :passcodes="desk.passcodes" is-board />
    <p v-else-if="desk" class="empty">
      No network takes a passcode, or none is for your eyes. <i>Networks</i>, stage <i>is asked</i>, offers
      one.
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
