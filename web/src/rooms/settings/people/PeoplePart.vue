<script setup lang="ts">
// Who signs in at this console, what each is there for, and what they may give.
import { computed, onMounted, ref } from 'vue'

import { api, got, type FirstPassword, type Networks, type Person } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import ReadingState from '../../../parts/ReadingState.vue'
import { useSession } from '../../../stores/session'
import { useAct } from '../../../use/useAct'
import { useReading } from '../../../use/useReading'
import { DUTIES, noLimits, type Duty } from './duties'
import LimitsFields from './LimitsFields.vue'
import PersonForm from './PersonForm.vue'

const props = defineProps<{ hasMail: boolean }>()
const { isBusy, problem, act, read, fault } = useAct()
const session = useSession()
const mayChange = session.may('configure')
const reading = useReading(() => got(api.GET('/api/people')))
const { found: people, load } = reading
const setup = ref<Networks | null>(null)
const name = ref('')
const mail = ref('')
const duty = ref<Duty>('desk')
const limits = ref(noLimits())
const bounds = ref(false)
const first = ref<FirstPassword | null>(null)
const said = ref('')
const open = ref(0)
const invites = computed(() => props.hasMail && mail.value.trim())

onMounted(async () => {
  await load()
  setup.value = (await read(() => got(api.GET('/api/networks')))) ?? null
})

async function add(): Promise<void> {
  const given = duty.value === 'desk' && bounds.value ? limits.value : noLimits()
  const wanted = { name: name.value, duty: duty.value, mail: mail.value, limits: given }
  const made = await act(() => got(api.POST('/api/people', { body: wanted })))
  if (!made) return
  tell(
    made.password ? '' : `A link is on its way to ${made.person.mail}. It is good once, and for three days.`,
  )
  first.value = made.password ? made : null
  name.value = mail.value = ''
  limits.value = noLimits()
  bounds.value = false
  await load()
}
async function tell(what: string): Promise<void> {
  said.value = what
  await load()
}
function password(made: FirstPassword): void {
  first.value = made
  void tell('')
}
function gone(one: Person): void {
  first.value = null
  open.value = 0
  void tell(`${one.name} is out. What they did keeps their name; add the name again to have them back.`)
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
    <form v-if="mayChange" aria-label="Add somebody" @submit.prevent="add">
      <div class="row">
        <v-text-field
          v-model="name"
          class="name"
          label="Name to sign in with"
          maxlength="80"
          required
          :error-messages="fault('name')"
        />
        <v-select v-model="duty" class="duty" :items="DUTIES" label="As" />
        <v-text-field
          v-if="hasMail"
          v-model="mail"
          class="name"
          type="email"
          label="Mail address, to invite them"
          placeholder="none: a first password is shown"
          persistent-placeholder
          maxlength="254"
          :error-messages="fault('mail')"
        />
        <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !name.trim()">
          {{ invites ? 'Invite' : 'Add' }}
        </v-btn>
        <v-btn v-if="duty === 'desk'" variant="text" :aria-expanded="bounds" @click="bounds = !bounds">
          {{ bounds ? 'Without limits' : 'With limits' }}
        </v-btn>
      </div>
      <p class="soft says">{{ DUTIES.find((one) => one.value === duty)?.says }}</p>
      <LimitsFields
        v-if="bounds && duty === 'desk' && setup"
        v-model="limits"
        :networks="setup.networks"
        :plans="setup.plans"
        :problem="problem"
      />
    </form>
    <ProblemNote v-if="!problem?.field || problem.field === 'duty'" :problem="problem" />
    <p v-if="first" class="note" role="status">
      {{ first.person.name }} signs in with <b class="mono">{{ first.password }}</b> within a day, and then
      chooses another password. It is not shown again.
      <v-btn size="x-small" variant="text" @click="first = null">Noted</v-btn>
    </p>
    <p v-if="said" role="status">{{ said }}</p>
    <ReadingState :of="reading" />
    <table v-if="people" class="list">
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
            <td class="soft wide may">{{ one.bounds || one.may }}</td>
            <td class="soft wide">{{ stands(one) }}{{ one.has_second ? ', second factor' : '' }}</td>
          </tr>
          <tr v-if="open === one.id">
            <td colspan="4" class="wide">
              <PersonForm
                :person="one"
                :setup="setup"
                :has-mail="hasMail"
                @saved="tell"
                @password="password"
                @gone="gone(one)"
              />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.name {
  max-width: 280px;
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
.list {
  margin-top: 14px;
}
@media (max-width: 700px) {
  .may {
    display: none;
  }
}
</style>
