<script setup lang="ts">
// Programs that speak to the API by a token, each with a duty and limits as people have.
import { onMounted, ref } from 'vue'

import { api, got, type NewToken, type Networks, type Program } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import ReadingState from '../../../parts/ReadingState.vue'
import RemoveButton from '../../../parts/RemoveButton.vue'
import { useSession } from '../../../stores/session'
import { useAct } from '../../../use/useAct'
import { useReading } from '../../../use/useReading'
import { useTimes } from '../../../use/useTimes'
import { noLimits } from './duties'
import LimitsFields from './LimitsFields.vue'

const KINDS = [
  { value: 'desk', title: 'issues and helps' },
  { value: 'auditor', title: 'only looks' },
] as const
const DAYS = [
  { value: 30, title: 'for 30 days' },
  { value: 365, title: 'for a year' },
  { value: null, title: 'until it is taken away' },
]
const { isBusy, problem, act, read, fault } = useAct()
const session = useSession()
const times = useTimes()
const mayChange = session.may('configure')
const reading = useReading(() => got(api.GET('/api/programs')))
const { found: programs, load } = reading
const setup = ref<Networks | null>(null)
const name = ref('')
const duty = ref<'desk' | 'auditor'>('desk')
const days = ref<number | null>(365)
const limits = ref(noLimits())
const editing = ref<Program | null>(null)
const made = ref<NewToken | null>(null)

onMounted(async () => {
  await load()
  setup.value = (await read(() => got(api.GET('/api/networks')))) ?? null
})
function turn(one: Program): void {
  editing.value = editing.value?.id === one.id ? null : { ...one, limits: { ...one.limits! } }
}
async function add(): Promise<void> {
  const wanted = { name: name.value, duty: duty.value, days: days.value, limits: limits.value }
  const done = await act(() => got(api.POST('/api/programs', { body: wanted })))
  if (!done) return
  made.value = done
  name.value = ''
  limits.value = noLimits()
  await load()
}
async function save(): Promise<void> {
  const one = editing.value!
  const wanted = { duty: one.duty, limits: one.limits }
  if (
    await act(() =>
      got(api.PUT('/api/programs/{program}', { params: { path: { program: one.id } }, body: wanted })),
    )
  )
    editing.value = null
  await load()
}
async function renew(one: Program): Promise<void> {
  const done = await act(() =>
    got(
      api.POST('/api/programs/{program}/token', {
        params: { path: { program: one.id } },
        body: { days: days.value },
      }),
    ),
  )
  if (done) made.value = done
  await load()
}
async function gone(): Promise<void> {
  editing.value = null
  await load()
}
</script>

<template>
  <section aria-label="Programs">
    <h2>Programs</h2>
    <p class="soft says">
      A property-management or event system issues by itself: it shows a token with each request. What it may
      is what one of the desk may, within the same limits; no program sets up the house.
    </p>
    <form v-if="mayChange" aria-label="Add a program" @submit.prevent="add">
      <div class="row">
        <v-text-field
          v-model="name"
          class="name"
          label="Name, as the log calls it"
          maxlength="80"
          required
          :error-messages="fault('name')"
        />
        <v-select v-model="duty" class="name" :items="KINDS" label="It" />
        <v-select v-model="days" class="name" :items="DAYS" label="Its token is good" />
        <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !name.trim()">Add</v-btn>
      </div>
      <LimitsFields
        v-if="duty === 'desk' && name.trim() && setup"
        v-model="limits"
        :networks="setup.networks"
        :plans="setup.plans"
        :problem="problem"
      />
    </form>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <p v-if="made" class="note" role="status">
      {{ made.program.name }} sends <span class="mono">Authorization: Bearer</span>
      <b class="mono token">{{ made.token }}</b> with each request. It is not shown again.
      <v-btn size="x-small" variant="text" @click="made = null">Noted</v-btn>
    </p>
    <ReadingState :of="reading" />
    <table v-if="programs?.length" class="list">
      <thead>
        <tr>
          <th>Name</th>
          <th>May</th>
          <th>Token</th>
          <th>Asked last</th>
        </tr>
      </thead>
      <tbody v-for="one in programs" :key="one.id">
        <tr>
          <td>
            <span v-if="!mayChange">{{ one.name }}</span>
            <button v-else class="who" :aria-expanded="editing?.id === one.id" @click="turn(one)">
              {{ one.name }}
            </button>
          </td>
          <td class="soft wide">
            {{ one.duty === 'auditor' ? 'Only looks.' : one.bounds || 'Issues and helps, without limits.' }}
          </td>
          <td class="soft wide">
            <template v-if="one.until">until {{ times.clock(one.until) }}</template>
            <template v-else>until it is taken away</template>
          </td>
          <td class="soft wide">{{ one.used ? times.clock(one.used) : 'never' }}</td>
        </tr>
        <tr v-if="editing?.id === one.id">
          <td colspan="4" class="wide">
            <form :aria-label="one.name" @submit.prevent="save">
              <v-select v-model="editing.duty" class="name top" :items="KINDS" label="It" />
              <LimitsFields
                v-if="editing.duty === 'desk' && setup"
                v-model="editing.limits!"
                :networks="setup.networks"
                :plans="setup.plans"
                :problem="problem"
              />
              <div class="acts">
                <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy">
                  Save
                </v-btn>
                <v-btn
                  size="small"
                  :disabled="isBusy"
                  title="The one before is good no more, at once"
                  @click="renew(one)"
                >
                  New token
                </v-btn>
                <RemoveButton
                  :remove="
                    () => api.DELETE('/api/programs/{program}', { params: { path: { program: one.id } } })
                  "
                  label="Remove"
                  @removed="gone"
                />
              </div>
            </form>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="programs" class="empty">None yet.</p>
  </section>
</template>

<style scoped>
form .acts {
  padding: 4px 0 10px;
}
.name {
  max-width: 260px;
}
.top {
  margin-top: 8px;
}
.who {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.token {
  overflow-wrap: anywhere;
}
.wide {
  white-space: normal !important;
}
.list {
  margin-top: 14px;
}
</style>
