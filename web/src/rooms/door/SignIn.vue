<script setup lang="ts">
import { ref } from 'vue'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../parts/TheMark.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act } = useAct()
const name = ref('')
const password = ref('')
</script>

<template>
  <main class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="act(() => session.signIn(name, password))">
      <h1>Who is at the desk?</h1>
      <v-text-field
        v-model="name"
        label="Name"
        autofocus
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
