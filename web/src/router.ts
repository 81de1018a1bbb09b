import { createRouter, createWebHistory } from 'vue-router'

import type { Need } from './api/client'
import BoardRoom from './rooms/board/BoardRoom.vue'
import DeskRoom from './rooms/desk/DeskRoom.vue'
import HouseRoom from './rooms/house/HouseRoom.vue'
import GuestsRoom from './rooms/guests/GuestsRoom.vue'
import NowRoom from './rooms/now/NowRoom.vue'
import PlacementRoom from './rooms/placement/PlacementRoom.vue'
import PassphrasesRoom from './rooms/passphrases/PassphrasesRoom.vue'
import PathsRoom from './rooms/paths/PathsRoom.vue'
import YouRoom from './rooms/you/YouRoom.vue'

declare module 'vue-router' {
  interface RouteMeta {
    need?: Need
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
    { path: '/paths', name: 'Paths', component: PathsRoom, meta: { need: 'inspect' } },
    { path: '/placement', name: 'Placement', component: PlacementRoom, meta: { need: 'inspect' } },
    { path: '/house', name: 'House', component: HouseRoom, meta: { need: 'inspect' } },
    { path: '/board', component: BoardRoom },
    { path: '/you', component: YouRoom },
    { path: '/invited', component: { render: () => null } },
    { path: '/:rest(.*)*', redirect: '/now' },
  ],
})
