<script setup lang="ts">
// Who signs in at this console, and what each is there for.
import { onMounted, ref } from 'vue'

import { call, type FirstPassword, type Person } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const DUTIES = [
  { value: 'administrator', title: 'administrator', says: 'sets up the house, issues, and helps guests' },
  { value: 'desk', title: 'desk', says: 'issues to guests and helps them; sees nothing of the set-up' },
  { value: 'auditor', title: 'auditor', says: 'sees everything, and changes nothing' },
] as const
type Duty = (typeof DUTIES)[number]['value']

const { isBusy, problem, act, read, fault } = useAct()
const session = useSession()
const mayChange = session.may('configure')
const people = ref<Person[]>([])
const name = ref('')
const duty = ref<Duty>('desk')
const first = ref<FirstPassword | null>(null)
const said = ref('')
const open = ref(0)

async function load(): Promise<void> {
  people.value = (await read(() => call<Person[]>('GET', '/api/people'))) ?? people.value
}
onMounted(load)

async function add(): Promise<void> {
  const wanted = { name: name.value, duty: duty.value }
  const made = await act(() => call<FirstPassword>('POST', '/api/people', wanted))
  if (!made) return
  first.value = made
  name.value = said.value = ''
  await load()
}
async function change(one: Person, to: Duty): Promise<void> {
  const now = await act(() => call<Person>('PUT', `/api/people/${one.id}`, { duty: to }))
  if (now) said.value = `From the next request on: ${now.name}, ${now.duty}.`
  await load()
}
async function anotherPassword(one: Person): Promise<void> {
  const made = await act(() => call<FirstPassword>('POST', `/api/people/${one.id}/password`))
  if (made) first.value = made
  await load()
}
async function signOut(one: Person): Promise<void> {
  if (await act(() => call('POST', `/api/people/${one.id}/sign-out`).then(() => true)))
    said.value = `${one.name} is signed out everywhere, and may sign in again.`
  await load()
}
function gone(one: Person): void {
  first.value = null
  said.value = `${one.name} is out. What they did keeps their name; add the name again to have them back.`
  void load()
}
const stands = (one: Person) =>
  one.waits ? 'has not signed in yet' : one.sessions ? `signed in, ${one.sessions}×` : 'not signed in'
</script>

<template>
  <section aria-label="People">
    <h2>People</h2>
    <p class="soft says">
      Each signs in under a name of their own, which stands on whatever they do. Hosts who vouch for guests
      need none: they are under <i>Hosts</i>.
    </p>
    <form v-if="mayChange" class="row" aria-label="Add somebody" @submit.prevent="add">
      <v-text-field
        v-model="name"
        class="name"
        label="Name to sign in with"
        maxlength="80"
        required
        :error-messages="fault('name')"
      />
      <v-select v-model="duty" class="duty" :items="DUTIES" label="As" />
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !name.trim()">Add</v-btn>
      <span class="soft">{{ DUTIES.find((one) => one.value === duty)?.says }}</span>
    </form>
    <ProblemNote v-if="!problem?.field || problem.field === 'duty'" :problem="problem" />
    <p v-if="first" class="note" role="status">
      {{ first.person.name }} signs in with <b class="mono">{{ first.password }}</b> within a day, and then
      chooses another password. It is not shown again.
      <v-btn size="x-small" variant="text" @click="first = null">Noted</v-btn>
    </p>
    <p v-if="said" role="status">{{ said }}</p>
    <table class="list">
      <thead>
        <tr>
          <th>Name</th>
          <th>Is there as</th>
          <th class="may">May</th>
          <th>Now</th>
        </tr>
      </thead>
      <tbody>
        <template v-for="one in people" :key="one.id">
          <tr>
            <td>
              <span v-if="!mayChange">{{ one.name }}</span>
              <button
                v-else
                class="who"
                :aria-expanded="open === one.id"
                @click="open = open === one.id ? 0 : one.id"
              >
                {{ one.name }}</button><span v-if="one.is_you" class="soft you">you</span>
            </td>
            <td>{{ one.duty }}</td>
            <td class="soft wide may">{{ one.may }}</td>
            <td class="soft wide">{{ stands(one) }}</td>
          </tr>
          <tr v-if="open === one.id">
            <td colspan="4" class="wide">
              <div class="row acts">
                <v-btn
                  v-for="other in DUTIES.filter((d) => d.value !== one.duty)"
                  :key="other.value"
                  size="small"
                  :disabled="isBusy"
                  :title="other.says"
                  @click="change(one, other.value)"
                >
                  Make {{ other.value === 'desk' ? 'one of the desk' : `an ${other.title}` }}
                </v-btn>
                <template v-if="!one.is_you">
                  <v-btn size="small" :disabled="isBusy || !one.sessions" @click="signOut(one)">
                    Sign out everywhere
                  </v-btn>
                  <v-btn
                    size="small"
                    :disabled="isBusy"
                    title="For who forgot theirs; they are signed out everywhere"
                    @click="anotherPassword(one)"
                  >
                    New first password
                  </v-btn>
                  <RemoveButton :path="`/api/people/${one.id}`" label="Remove" @removed="gone(one)" />
                </template>
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.name {
  max-width: 260px;
}
.duty {
  max-width: 190px;
}
.who {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.you {
  margin-left: 10px;
}
.wide {
  white-space: normal !important;
}
.acts {
  padding: 8px 0;
}
.list {
  margin-top: 14px;
}
@media (max-width: 700px) {
  .may {
    display: none;
  }
}
</style>
