<script setup lang="ts">
import { onMounted, ref } from 'vue'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../parts/TheMark.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act } = useAct()
const name = ref('')
const password = ref('')
const first = ref<HTMLInputElement | null>(null)
onMounted(() => first.value?.focus())
</script>

<template>
  <main class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="act(() => session.signIn(name, password))">
      <h1>Who is at the desk?</h1>
      <label for="name">Name</label>
      <input
        id="name"
        ref="first"
        v-model="name"
        autocomplete="username"
        autocapitalize="none"
        required
        maxlength="80"
      />
      <label for="password">Password</label>
      <input
        id="password"
        v-model="password"
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
