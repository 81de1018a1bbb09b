<script setup lang="ts">
import { nextTick, onMounted, ref, watch } from 'vue'
import type { VTextField } from 'vuetify/components'

import ProblemNote from '../../parts/ProblemNote.vue'
import TheMark from '../../frame/TheMark.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act, fault } = useAct()
const props = defineProps<{ as?: string }>()
const name = ref(props.as ?? '')
const password = ref('')
const code = ref('')
/** Whoever knows the password is told that a code is needed, too. */
const needsCode = ref(false)
const codeField = ref<VTextField | null>(null)
const nameField = ref<VTextField | null>(null)
const passwordField = ref<VTextField | null>(null)
onMounted(() => (props.as ? passwordField : nameField).value?.focus())
watch(problem, async (now) => {
  if (now?.field !== 'code') return
  needsCode.value = true
  await nextTick()
  codeField.value?.focus()
})
</script>

<template>
  <main class="gate">
    <p class="name"><TheMark /> Lauschen</p>
    <form @submit.prevent="act(() => session.signIn(name, password, code))">
      <h1>Who is at the desk?</h1>
      <v-text-field
        ref="nameField"
        v-model="name"
        label="Name"
        autocomplete="username"
        autocapitalize="none"
        required
        maxlength="80"
      />
      <v-text-field
        ref="passwordField"
        v-model="password"
        label="Password"
        type="password"
        autocomplete="current-password"
        required
        maxlength="200"
      />
      <v-text-field
        v-if="needsCode"
        ref="codeField"
        v-model="code"
        class="mono"
        label="Code of your second factor"
        hint="Six digits from your phone, or a recovery code."
        persistent-hint
        autocomplete="one-time-code"
        maxlength="40"
        :error-messages="problem?.code === 'second_needed' ? [] : fault('code')"
      />
      <ProblemNote v-if="problem?.field !== 'code'" :problem="problem" />
      <v-btn type="submit" variant="flat" color="primary" size="large" :loading="isBusy"> Sign in </v-btn>
    </form>
  </main>
</template>

<style scoped src="./gate.css"></style>
