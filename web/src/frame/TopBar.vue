<script setup lang="ts">
import { mdiWeatherNight, mdiWhiteBalanceSunny } from '@mdi/js'
import { computed } from 'vue'
import { useTheme } from 'vuetify'

import { useSession } from '../stores/session'
import { useRooms } from '../use/useRooms'
import TheMark from './TheMark.vue'

const session = useSession()
const theme = useTheme()
const isNight = computed(() => theme.global.name.value === 'night')
const { theirs } = useRooms()
const rooms = computed(theirs)

function turn(): void {
  const next = isNight.value ? 'day' : 'night'
  theme.change(next)
  localStorage.setItem('lauschen.theme', next)
}
</script>

<template>
  <header class="top">
    <router-link to="/now" class="name" aria-label="Lauschen, to the room Now"
      ><TheMark /> <span>Lauschen</span></router-link
    >
    <nav aria-label="Rooms">
      <router-link v-for="room in rooms" :key="room" :to="{ name: room }">{{ room }}</router-link>
    </nav>
    <span class="site soft">{{ session.session?.site }}</span>
    <v-btn
      variant="text"
      size="small"
      :icon="isNight ? mdiWhiteBalanceSunny : mdiWeatherNight"
      :aria-label="isNight ? 'Day colours' : 'Night colours'"
      @click="turn"
    />
    <router-link class="who" to="/you" title="Your password, your second factor, where you are signed in">
      {{ session.session?.name }}{{ session.may('configure') ? '' : `, ${session.session?.duty}` }}
    </router-link>
    <button class="who" @click="session.signOut()">sign out</button>
  </header>
</template>

<style scoped>
.top {
  position: fixed;
  inset: 0 0 auto;
  height: var(--top);
  z-index: 20;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 0 20px;
  background: rgb(var(--v-theme-background));
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.name {
  display: flex;
  align-items: center;
  gap: 10px;
  font-weight: 700;
  font-size: 18px;
  text-decoration: none;
  color: rgb(var(--v-theme-primary));
  margin-right: 14px;
}
nav {
  display: flex;
  height: 100%;
  gap: 4px;
  flex: 1;
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 11px;
  text-decoration: none;
  font-size: 16px;
  color: rgb(var(--v-theme-soft));
  border-bottom: 3px solid transparent;
  border-top: 3px solid transparent;
}
nav a.router-link-active {
  color: rgb(var(--v-theme-primary));
  font-weight: 700;
  border-bottom-color: currentColor;
}
.site,
.who {
  white-space: nowrap;
}
.site {
  font-size: 14px;
}
.who {
  font-size: 14px;
  color: rgb(var(--v-theme-soft));
  text-decoration: underline;
  text-underline-offset: 3px;
  text-decoration-color: rgb(var(--v-theme-hair));
}
@media (max-width: 960px) {
  .site {
    display: none;
  }
}
/* Two lines on a phone: who and where, then the rooms. */
@media (max-width: 700px) {
  .top {
    flex-wrap: wrap;
    align-content: flex-start;
    padding: 0 12px;
    gap: 0 10px;
  }
  .name {
    height: 44px;
    flex: 1;
    margin-right: 0;
  }
  nav {
    order: 1;
    flex: 1 0 100%;
    height: 40px;
    margin: 0 -12px;
    padding: 0 4px;
    justify-content: space-between;
  }
  nav a {
    padding: 0 8px;
    font-size: 15px;
  }
}
</style>
