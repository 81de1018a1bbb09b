import { createRouter, createWebHistory } from 'vue-router'

import DeskRoom from './rooms/DeskRoom.vue'
import GuestsRoom from './rooms/GuestsRoom.vue'
import NowRoom from './rooms/NowRoom.vue'
import PathsRoom from './rooms/PathsRoom.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/now' },
    { path: '/now', name: 'Now', component: NowRoom },
    { path: '/desk', name: 'Desk', component: DeskRoom },
    { path: '/guests', name: 'Guests', component: GuestsRoom },
    { path: '/paths', name: 'Paths', component: PathsRoom },
    { path: '/:rest(.*)*', redirect: '/now' },
  ],
})
