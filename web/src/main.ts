import '@fontsource/atkinson-hyperlegible-next/400.css'
import '@fontsource/atkinson-hyperlegible-next/400-italic.css'
import '@fontsource/atkinson-hyperlegible-next/700.css'
import '@fontsource/atkinson-hyperlegible-mono/400.css'
import '@fontsource/atkinson-hyperlegible-mono/700.css'
import 'vuetify/styles'
import './console.css'

import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { createVuetify } from 'vuetify'
import { aliases, mdi } from 'vuetify/iconsets/mdi-svg'

import App from './App.vue'
import { router } from './router'
import { themes } from './theme'

const vuetify = createVuetify({
  icons: { defaultSet: 'mdi', aliases, sets: { mdi } },
  theme: { defaultTheme: localStorage.getItem('lauschen.theme') ?? 'day', themes },
  defaults: {
    VBtn: { variant: 'outlined', rounded: 'lg', ripple: false },
    VTextField: { color: 'primary', variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VTextarea: { color: 'primary', variant: 'outlined', density: 'compact', hideDetails: 'auto' },
    VCheckbox: { density: 'compact', hideDetails: 'auto', color: 'primary' },
    // Lists are there at once: one that still grows moves under the press of whoever knows where things are.
    VSelect: {
      color: 'primary',
      variant: 'outlined',
      density: 'compact',
      hideDetails: 'auto',
      transition: false,
    },
    VMenu: { transition: false },
  },
})

createApp(App).use(createPinia()).use(router).use(vuetify).mount('#app')
