import { createRouter, createWebHistory, type LocationQuery, type RouteLocation } from 'vue-router'

import type { Need } from './api/client'
import BoardRoom from './rooms/board/BoardRoom.vue'
import DeskRoom from './rooms/desk/DeskRoom.vue'
import SettingsRoom from './rooms/settings/SettingsRoom.vue'
import GuestsRoom from './rooms/guests/GuestsRoom.vue'
import NowRoom from './rooms/now/NowRoom.vue'
import RulesRoom from './rooms/rules/RulesRoom.vue'
import PassphrasesRoom from './rooms/passphrases/PassphrasesRoom.vue'
import NetworksRoom from './rooms/networks/NetworksRoom.vue'
import YouRoom from './rooms/you/YouRoom.vue'

declare module 'vue-router' {
  interface RouteMeta {
    need?: Need
  }
}

/** To the same view of a room that has another name now; `names`: queries that do. */
function moved(path: string, names: Record<string, string> = {}) {
  return (from: RouteLocation) => {
    const query = Object.entries(from.query).map(([key, value]) => [names[key] ?? key, value])
    return { path, query: Object.fromEntries(query) as LocationQuery }
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/now' },
    { path: '/now', name: 'Now', component: NowRoom },
    { path: '/desk', name: 'Desk', component: DeskRoom },
    { path: '/guests', name: 'Guests', component: GuestsRoom },
    { path: '/passphrases', name: 'Passphrases', component: PassphrasesRoom },
    { path: '/networks', name: 'Networks', component: NetworksRoom, meta: { need: 'inspect' } },
    { path: '/rules', name: 'Rules and plans', component: RulesRoom, meta: { need: 'inspect' } },
    { path: '/settings', name: 'Settings', component: SettingsRoom, meta: { need: 'inspect' } },
    { path: '/board', component: BoardRoom },
    { path: '/you', component: YouRoom },
    { path: '/invited', component: { render: () => null } },
    // Former names of rooms, in bookmarks and old messages.
    { path: '/paths', redirect: moved('/networks', { knock: 'unknown' }) },
    { path: '/placement', redirect: moved('/rules') },
    { path: '/house', redirect: moved('/settings') },
    { path: '/:rest(.*)*', redirect: '/now' },
  ],
})
