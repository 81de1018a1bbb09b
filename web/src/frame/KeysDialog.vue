<script setup lang="ts">
import { ref } from 'vue'

import { useKeys } from '../use/useKeys'

const isOpen = ref(false)
const keys = [
  ['/', 'find a guest'],
  ['n', 'issue one'],
  ['b', 'issue many'],
  ['p', 'print what was issued last, on Desk'],
  ['m  t', 'mail or text it'],
  ['u', 'undo the last act'],
  ['j  k', 'next and previous guest'],
  ['x', 'pick that guest'],
  ['Enter', 'the main action'],
  ['Esc', 'back'],
  ['l', 'the log'],
]
useKeys({ '?': () => (isOpen.value = true) })
</script>

<template>
  <v-dialog v-model="isOpen" max-width="380" aria-label="Keys">
    <v-card class="pa-5" rounded="lg">
      <h2>Keys</h2>
      <dl>
        <template v-for="[key, what] in keys" :key="key"
          ><dt class="mono">{{ key }}</dt>
          <dd>{{ what }}</dd></template
        >
      </dl>
      <v-btn @click="isOpen = false">Close</v-btn>
    </v-card>
  </v-dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 70px 1fr;
  gap: 6px 12px;
  margin: 12px 0 18px;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
</style>
