<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { VTextField } from 'vuetify/components'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../frame/TheMark.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act } = useAct()
const name = ref('')
const password = ref('')
const first = ref<VTextField | null>(null)
// At once: `autofocus` waits for the field to be seen, and could take the focus from the next one.
onMounted(() => first.value?.focus())
</script>

<template>
  <main class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="act(() => session.signIn(name, password))">
      <h1>Who is at the desk?</h1>
      <v-text-field
        ref="first"
        v-model="name"
        label="Name"
        autocomplete="username"
        autocapitalize="none"
        required
        maxlength="80"
      />
      <v-text-field
        v-model="password"
        label="Password"
        type="password"
        autocomplete="current-password"
        required
        maxlength="200"
      />
      <ProblemNote :problem="problem" />
      <v-btn type="submit" variant="flat" color="primary" size="large" :loading="isBusy"> Sign in </v-btn>
    </form>
  </main>
</template>

<style scoped src="./gate.css"></style>
