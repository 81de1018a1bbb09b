<script setup lang="ts">
// Where the link of an invitation leads: a password of one's own, and then the door as for everybody.
import { computed, ref } from 'vue'

import { api, got } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../frame/TheMark.vue'
import { useAct } from '../../use/useAct'
import SignIn from './SignIn.vue'

const { isBusy, problem, act } = useAct()
const token = location.hash.slice(1)
const chosen = ref('')
const again = ref('')
const name = ref<string | null>(null)
const differs = computed(() => again.value !== '' && again.value !== chosen.value)

async function keep(): Promise<void> {
  const wanted = { token, new: chosen.value }
  const said = await act(() => got(api.POST('/api/invitations', { body: wanted })))
  if (!said) return
  name.value = said.name
  history.replaceState(history.state, '', location.pathname) // the link is used, and need not stay in sight
}
</script>

<template>
  <SignIn v-if="name" :as="name" />
  <main v-else class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="!differs && keep()">
      <h1>Choose your password</h1>
      <p class="soft">You were invited to this desk. Ten characters or more, known to nobody else.</p>
      <v-text-field
        v-model="chosen"
        label="Password"
        type="password"
        autocomplete="new-password"
        required
        minlength="10"
        maxlength="200"
      />
      <v-text-field
        v-model="again"
        label="The same again"
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
