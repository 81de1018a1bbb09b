<script setup lang="ts">
// Issues passphrases in this room: for one, or for each name of a list.
import { computed, ref, watch } from 'vue'

import { api, got, type Drawn, type Houseplan, type PassphraseMade, type Seats } from '../../api/client'
import CsvFile from '../../parts/issuing/CsvFile.vue'
import GroupBox from '../../parts/issuing/GroupBox.vue'
import JobLine from '../../parts/issuing/JobLine.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import { HOLDER_KINDS, SEATS, seatsHint } from '../../parts/issuing/terms'
import { useAct } from '../../use/useAct'
import { useJob } from '../../use/useJob'
import TheKey from './TheKey.vue'

const STYLES = [
  { value: 'words en', title: 'words, English' },
  { value: 'words de', title: 'words, German' },
  { value: 'letters en', title: 'letters' },
  { value: 'chosen', title: 'one that you choose' },
]
const STRENGTHS = [50, 60, 70].map((bits) => ({ value: bits, title: `${bits} bits` }))
const USUAL_BITS = 60
const props = defineProps<{ plan: Houseplan; network: Houseplan['networks'][number] }>()
const emit = defineEmits<{ issued: [] }>()
const { isBusy, problem, act, read, fault } = useAct()
const names = ref('')
const kind = ref<'person' | 'room' | 'thing'>('person')
const planId = ref<number | null>(null)
const style = ref('words en')
const bits = ref(USUAL_BITS)
const chosen = ref('')
const devices = ref('')
const seats = ref<Seats>('at_once')
const until = ref('')
const hasGroup = ref(false)
const role = ref<number | null>(null)
const note = ref('')
const strength = ref<Drawn | null>(null)
const made = ref<PassphraseMade | null>(null)
const madeFor = ref('')
const { job, isRunning, run, cancel } = useJob('passphrases')

const wanted = computed(() =>
  names.value.split('\n').filter((line) => line.trim() && !/^name[\t;,]/i.test(line)),
)
const isMany = computed(() => wanted.value.length > 1 || /[\t;]|^name,/i.test(names.value))
const roles = computed(() => [
  { value: null, title: 'as the rules say' },
  ...props.plan.roles.map((one) => ({ value: one.id, title: one.name })),
])
const isChosen = computed(() => style.value === 'chosen' && !isMany.value)
const form = computed(() => ({
  style: style.value.startsWith('letters') ? ('letters' as const) : ('words' as const),
  lang: style.value.endsWith('de') ? ('de' as const) : ('en' as const),
  bits: bits.value,
}))
watch(
  () => props.plan.plans,
  (plans) => {
    planId.value ??= plans.at(-1)?.id ?? null
  },
  { immediate: true },
)
watch(
  form,
  async (now) => {
    const drawn = await read(() => got(api.POST('/api/passphrases/draw', { body: now })))
    strength.value = drawn ?? strength.value
  },
  { immediate: true },
)
/** What all of them have in common. */
function terms() {
  return {
    plan: planId.value ?? 0,
    network: props.network.id,
    kind: kind.value,
    devices: devices.value && seats.value !== 'any' ? Number(devices.value) : null,
    seats: seats.value,
    until: until.value || null,
    has_group: hasGroup.value,
    role: role.value,
    note: note.value,
    ...form.value,
  }
}
async function issue(): Promise<void> {
  made.value = job.value = null
  const done = await act(() => (isMany.value ? issueMany() : issueOne()))
  if (!done) return
  names.value = chosen.value = note.value = ''
  emit('issued')
}
async function issueOne(): Promise<boolean> {
  const label = wanted.value[0]?.trim() ?? ''
  made.value = await got(
    api.POST('/api/passphrases', {
      body: {
        ...terms(),
        label,
        passphrase: isChosen.value ? chosen.value : null,
      },
    }),
  )
  madeFor.value = label
  return true
}
async function issueMany(): Promise<boolean> {
  const asked = { ...terms(), text: names.value }
  return (await run(() => got(api.POST('/api/passphrases/many', { body: asked })))).state === 'done'
}
</script>

<template>
  <form class="issue" aria-label="Issue a passphrase" @submit.prevent="issue">
    <h1>Issue</h1>
    <div class="stack">
      <v-textarea
        v-model="names"
        label="For whom or what"
        rows="1"
        auto-grow
        max-rows="8"
        placeholder="Ines Harwood"
        persistent-placeholder
        hint="One on each line makes one for each; behind a tab or semicolon: send to, until, devices, note."
        persistent-hint
        required
        :error-messages="fault('label')"
      />
      <CsvFile @text="names = $event" />
      <div class="pair">
        <v-select v-model="kind" label="It is" :items="HOLDER_KINDS" />
        <v-select
          v-model="planId"
          label="Plan"
          :items="plan.plans"
          item-title="name"
          item-value="id"
          :error-messages="fault('plan')"
        />
        <v-text-field
          v-model="until"
          label="Good until"
          type="datetime-local"
          persistent-placeholder
          :error-messages="fault('until')"
        />
        <v-text-field
          v-model="devices"
          label="Devices"
          inputmode="numeric"
          placeholder="as the plan says"
          persistent-placeholder
          :disabled="seats === 'any'"
          :error-messages="fault('devices')"
        />
        <v-select v-model="style" label="Made of" :items="STYLES" />
        <v-select
          v-if="!isChosen"
          v-model="bits"
          label="Strength"
          :items="STRENGTHS"
          :error-messages="fault('bits')"
        />
        <v-text-field
          v-else
          v-model="chosen"
          class="mono"
          label="Passphrase"
          maxlength="63"
          autocomplete="off"
          hint="8 to 63 signs of a plain keyboard."
          persistent-hint
          :error-messages="fault('passphrase')"
        />
      </div>
      <GroupBox v-if="network.groups" v-model="hasGroup" :faults="fault('is_group')" />
      <details :open="fault('role').length > 0">
        <summary>
          {{ plan.roles.length ? 'Counting devices, placing them, a note' : 'Counting devices, a note' }}
        </summary>
        <div class="pair">
          <v-select
            v-model="seats"
            label="Devices are counted"
            :items="SEATS"
            :hint="seatsHint(seats)"
            persistent-hint
          />
          <v-select
            v-if="plan.roles.length"
            v-model="role"
            label="Placed"
            :items="roles"
            :error-messages="fault('role')"
          />
          <v-text-field v-model="note" class="wide" label="Note for us" maxlength="500" />
        </div>
      </details>
    </div>
    <p v-if="strength && !isChosen" class="soft says">
      Such as <span class="mono">{{ strength.passphrase }}</span>. {{ strength.sentence }}
    </p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || isRunning || !wanted.length">
        {{ isMany ? `Issue ${wanted.length.toLocaleString('en')}` : 'Issue' }}
      </v-btn>
    </div>
    <JobLine v-if="job" :job="job" made="made. They count once all are there." @cancel="cancel">
      <template v-if="job.state === 'done' && job.batch">
        {{ job.of.toLocaleString('en') }} are there.
        <a :href="`/api/batches/${job.batch}/slips.pdf`" target="_blank" rel="noopener">Print their slips</a>
      </template>
      <template v-else>{{ job.error ?? 'Cancelled: nothing was issued.' }}</template>
    </JobLine>
    <template v-if="made">
      <p role="status">The passphrase of {{ madeFor }}:</p>
      <TheKey :shown="made" />
      <div class="acts">
        <v-btn size="small" :href="`/api/issued/${made.id}/slip.pdf`" target="_blank" rel="noopener"
          >Print</v-btn
        >
      </div>
    </template>
  </form>
</template>

<style scoped>
.issue {
  border-left: 1px solid rgb(var(--v-theme-hair));
  padding-left: 22px;
}
.acts {
  margin-top: 10px;
}
details .pair {
  margin-top: 10px;
}
.wide {
  grid-column: 1 / -1;
}
</style>
