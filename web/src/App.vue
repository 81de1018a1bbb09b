<script setup lang="ts">
import { computed, onMounted, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import KeysDialog from './frame/KeysDialog.vue'
import ListeningLine from './frame/ListeningLine.vue'
import LogPanel from './frame/LogPanel.vue'
import TopBar from './frame/TopBar.vue'
import NewPassword from './rooms/door/NewPassword.vue'
import InvitedDoor from './rooms/door/InvitedDoor.vue'
import SignIn from './rooms/door/SignIn.vue'
import { useLive } from './stores/live'
import { useSession } from './stores/session'
import { useKeys } from './use/useKeys'
import { useRooms } from './use/useRooms'

const session = useSession()
const live = useLive()
const router = useRouter()
const route = useRoute()
const { mayEnter } = useRooms()

onMounted(() => session.load())
watch(
  () => session.session && !session.session.must_change,
  (isIn) => (isIn ? live.open() : live.close()),
)

watch(
  () => session.session !== null && route.path === '/invited',
  (isIn) => isIn && router.replace('/now'),
)

/** In the rooms of the set-up, for who changes nothing there. */
const looksOnly = computed(() => route.meta.need === 'inspect' && !session.may('configure'))

const go = (path: string, focus?: string) => {
  if (session.session) void router.push({ path, query: focus ? { focus } : {} })
}
useKeys({
  '/': () => go('/guests', 'find'),
  n: () => go('/desk', 'one'),
  b: () => go('/desk', 'many'),
  l: () => (live.isLogOpen = !live.isLogOpen),
})
</script>

<template>
  <v-app>
    <InvitedDoor v-if="session.isKnown && !session.session && route.path === '/invited'" />
    <template v-else-if="session.isKnown && !session.session"><SignIn /></template>
    <template v-else-if="session.session?.must_change"><NewPassword /></template>
    <template v-else-if="session.session">
      <TopBar />
      <main class="below" :class="{ 'looks-only': looksOnly }">
        <router-view v-if="mayEnter(route.path)" />
        <p v-else class="room empty">This room is for who sets up the house. The others are above.</p>
      </main>
      <LogPanel v-if="live.isLogOpen" @close="live.isLogOpen = false" />
      <ListeningLine />
      <KeysDialog />
    </template>
  </v-app>
</template>

<style scoped>
.below {
  padding-top: var(--top);
}
</style>
