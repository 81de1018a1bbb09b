<script setup lang="ts">
import { computed, ref } from 'vue'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../frame/TheMark.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act } = useAct()
const old = ref('')
const chosen = ref('')
const again = ref('')
const differs = computed(() => again.value !== '' && again.value !== chosen.value)
</script>

<template>
  <main class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="!differs && act(() => session.changePassword(old, chosen))">
      <h1>Choose a password of your own</h1>
      <p class="soft">The first one was for getting in once. The new one has ten characters or more.</p>
      <v-text-field
        v-model="old"
        label="The first password"
        type="password"
        autocomplete="current-password"
        required
      />
      <v-text-field
        v-model="chosen"
        label="The new one"
        type="password"
        autocomplete="new-password"
        required
        minlength="10"
      />
      <v-text-field
        v-model="again"
        label="The new one again"
        type="password"
        autocomplete="new-password"
        required
        :error-messages="differs ? ['The two do not match yet.'] : []"
      />
      <ProblemNote :problem="problem" />
      <v-btn type="submit" variant="flat" color="primary" size="large" :loading="isBusy" :disabled="differs">
        Keep it
      </v-btn>
    </form>
  </main>
</template>

<style scoped src="./gate.css"></style>
