<script setup lang="ts">
// What everybody does for themselves: password, second factor, where they are signed in.
import { ref } from 'vue'

import ProblemNote from '../../parts/ProblemNote.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { areShortcutsOn } from '../../use/useShortcuts'
import SecondFactor from './SecondFactor.vue'
import SessionsList from '../../parts/SessionsList.vue'

const session = useSession()
const { isBusy, problem, act, fault } = useAct()
const old = ref('')
const chosen = ref('')
const said = ref('')

async function change(): Promise<void> {
  said.value = ''
  if (!(await act(() => session.changePassword(old.value, chosen.value).then(() => true)))) return
  old.value = chosen.value = ''
  said.value = 'Changed. Every other browser of yours is signed out.'
}
</script>

<template>
  <div class="room">
    <h1>{{ session.session?.name }}</h1>
    <p v-if="session.session?.bounds" class="soft">What you may give: {{ session.session.bounds }}</p>
    <section aria-label="Password">
      <h2>Password</h2>
      <form class="row" aria-label="Another password" @submit.prevent="change">
        <v-text-field
          v-model="old"
          label="The one you have"
          type="password"
          autocomplete="current-password"
          required
          :error-messages="fault('old')"
        />
        <v-text-field
          v-model="chosen"
          label="The new one"
          type="password"
          autocomplete="new-password"
          minlength="10"
          required
          :error-messages="fault('new')"
        />
        <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !old || !chosen"
          >Change it</v-btn
        >
      </form>
      <ProblemNote v-if="!problem?.field" :problem="problem" />
      <p v-if="said" role="status">{{ said }}</p>
    </section>
    <SecondFactor />
    <section aria-label="Keyboard">
      <h2>Keyboard</h2>
      <v-checkbox
        v-model="areShortcutsOn"
        label="Single keys are shortcuts"
        hint="Press ? for a list. Turn this off if you speak to your computer; this browser remembers it."
        persistent-hint
      />
    </section>
    <section aria-label="Where you are signed in">
      <h2>Where you are signed in</h2>
      <SessionsList :of="null" />
    </section>
  </div>
</template>

<style scoped>
section {
  margin-top: 26px;
  max-width: 860px;
}
.row .v-text-field {
  max-width: 280px;
}
</style>
