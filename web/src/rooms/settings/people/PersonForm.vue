<script setup lang="ts">
// One person: what they are there for, what they may give, where they are signed in.
import { ref } from 'vue'

import { api, got, type FirstPassword, type Networks, type Person } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import RemoveButton from '../../../parts/RemoveButton.vue'
import SessionsList from '../../../parts/SessionsList.vue'
import { useAct } from '../../../use/useAct'
import { DUTIES } from './duties'
import LimitsFields from './LimitsFields.vue'

const props = defineProps<{ person: Person; setup: Networks | null; hasMail: boolean }>()
const emit = defineEmits<{ saved: [said: string]; password: [made: FirstPassword]; gone: [] }>()
const { isBusy, problem, act } = useAct()
const duty = ref(props.person.duty)
const limits = ref({ ...props.person.limits! })
const mail = ref(props.person.mail)

async function save(): Promise<void> {
  const wanted = { duty: duty.value, limits: limits.value }
  const now = await act(() =>
    got(api.PUT('/api/people/{person}', { params: { path: { person: props.person.id } }, body: wanted })),
  )
  if (!now) return
  const bounds = now.duty === 'desk' && now.bounds ? ` ${now.bounds}` : ''
  emit('saved', `From the next request on: ${now.name}, ${now.duty}.${bounds}`)
}
async function anotherPassword(): Promise<void> {
  const made = await act(() =>
    got(api.POST('/api/people/{person}/password', { params: { path: { person: props.person.id } } })),
  )
  if (made) emit('password', made)
}
async function invite(): Promise<void> {
  const wanted = { mail: mail.value }
  const now = await act(() =>
    got(
      api.POST('/api/people/{person}/invite', {
        params: { path: { person: props.person.id } },
        body: wanted,
      }),
    ),
  )
  if (now) emit('saved', `A link is on its way to ${now.mail}. It is good once, and for three days.`)
}
async function signOut(): Promise<void> {
  if (
    await act(() =>
      got(api.POST('/api/people/{person}/sign-out', { params: { path: { person: props.person.id } } })).then(
        () => true,
      ),
    )
  )
    emit('saved', `${props.person.name} is signed out everywhere, and may sign in again.`)
}
async function forgetSecond(): Promise<void> {
  if (
    await act(() =>
      got(api.DELETE('/api/people/{person}/second', { params: { path: { person: props.person.id } } })).then(
        () => true,
      ),
    )
  )
    emit('saved', `${props.person.name} signs in by the password alone, until they turn it on again.`)
}
</script>

<template>
  <form :aria-label="person.name" @submit.prevent="save">
    <v-select v-model="duty" class="duty" :items="DUTIES" label="Is there as" />
    <p class="soft says">{{ DUTIES.find((one) => one.value === duty)?.says }}</p>
    <LimitsFields
      v-if="duty === 'desk' && setup"
      v-model="limits"
      :networks="setup.networks"
      :plans="setup.plans"
      :problem="problem"
    />
    <ProblemNote v-if="!problem?.field || problem.field === 'duty'" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy">Save</v-btn>
      <template v-if="!person.is_you">
        <v-btn size="small" :disabled="isBusy || !person.sessions" @click="signOut"
          >Sign out everywhere</v-btn
        >
        <v-btn
          size="small"
          :disabled="isBusy"
          title="For who forgot theirs; they are signed out everywhere"
          @click="anotherPassword"
          >New first password</v-btn
        >
        <v-btn
          v-if="person.has_second"
          size="small"
          :disabled="isBusy"
          title="For who lost their phone and their recovery codes"
          @click="forgetSecond"
          >Forget their second factor</v-btn
        >
        <RemoveButton
          :remove="() => api.DELETE('/api/people/{person}', { params: { path: { person: person.id } } })"
          label="Remove"
          @removed="emit('gone')"
        />
      </template>
    </div>
  </form>
  <form
    v-if="hasMail && !person.is_you"
    class="row invite"
    aria-label="Invite by mail"
    @submit.prevent="invite"
  >
    <v-text-field
      v-model="mail"
      type="email"
      label="Mail address"
      maxlength="254"
      :error-messages="problem?.field === 'mail' || problem?.field === 'to' ? [problem.message] : []"
    />
    <v-btn type="submit" size="small" :disabled="isBusy || !mail.trim()">
      Mail a link to choose a password
    </v-btn>
  </form>
  <template v-if="person.sessions && !person.is_you">
    <h3>Signed in</h3>
    <SessionsList :of="person.id" />
  </template>
</template>

<style scoped>
form .acts {
  padding: 4px 0 10px;
}
.duty {
  max-width: 260px;
  margin-top: 8px;
}
.invite {
  margin-top: 14px;
}
.invite .v-text-field {
  max-width: 320px;
}
h3 {
  font-size: 15px;
  margin: 14px 0 0;
}
</style>
