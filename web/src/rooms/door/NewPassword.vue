<script setup lang="ts">
import { computed, ref } from 'vue'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../parts/TheMark.vue'
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
      <label for="old">The first password</label>
      <input id="old" v-model="old" type="password" autocomplete="current-password" required />
      <label for="chosen">The new one</label>
      <input
        id="chosen"
        v-model="chosen"
        type="password"
        autocomplete="new-password"
        required
        minlength="10"
      />
      <label for="again">The new one again</label>
      <input id="again" v-model="again" type="password" autocomplete="new-password" required />
      <p v-if="differs" role="alert">The two do not match yet.</p>
      <ProblemNote :problem="problem" />
      <v-btn type="submit" variant="flat" color="primary" size="large" :loading="isBusy" :disabled="differs">
        Keep it
      </v-btn>
    </form>
  </main>
</template>

<style scoped src="./gate.css"></style>
