import { createRouter, createWebHistory } from 'vue-router'

import DeskRoom from './rooms/desk/DeskRoom.vue'
import HouseRoom from './rooms/house/HouseRoom.vue'
import GuestsRoom from './rooms/guests/GuestsRoom.vue'
import NowRoom from './rooms/now/NowRoom.vue'
import PlacementRoom from './rooms/placement/PlacementRoom.vue'
import PathsRoom from './rooms/paths/PathsRoom.vue'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/now' },
    { path: '/now', name: 'Now', component: NowRoom },
    { path: '/desk', name: 'Desk', component: DeskRoom },
    { path: '/guests', name: 'Guests', component: GuestsRoom },
    { path: '/paths', name: 'Paths', component: PathsRoom },
    { path: '/placement', name: 'Placement', component: PlacementRoom },
    { path: '/house', name: 'House', component: HouseRoom },
    { path: '/:rest(.*)*', redirect: '/now' },
  ],
})
