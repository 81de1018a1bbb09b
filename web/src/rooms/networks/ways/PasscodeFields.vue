<script setup lang="ts">
// A passcode: when it changes, what it is made of, how likely it is guessed; and what is done to it by hand.
import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type Desk, type Network, type PasscodeWay, type PasscodeWords } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import { useAct } from '../../../use/useAct'
import { useTimes } from '../../../use/useTimes'

const way = defineModel<PasscodeWay>({ required: true })
const props = defineProps<{ network: Network; plans: { title: string; value: number }[]; faults: string[] }>()
const { isBusy, problem, act, read, fault } = useAct()
const times = useTimes()
const words = ref<PasscodeWords | null>(null)
const desk = ref<Desk | null>(null)
const text = ref('')
const SCHEDULES = [
  { value: 'daily', title: 'each day' },
  { value: 'weekly', title: 'each week' },
  { value: 'hourly', title: 'every few hours' },
  { value: 'never', title: 'never: it is what I write' },
]
const tells = computed({
  get: () => (way.value.tells ?? []).join(', '),
  set: (typed: string) => {
    way.value.tells = typed
      .split(/[,;\n]/)
      .map((one) => one.trim())
      .filter(Boolean)
  },
})
const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'].map(
  (title, value) => ({ title, value }),
)
const HOURS = [1, 2, 3, 4, 6, 8, 12].map((value) => ({ title: `${value} h`, value }))
const SIGNS = [
  { value: 'digits', title: 'digits' },
  { value: 'letters', title: 'letters and digits' },
]
const isSaved = computed(() => props.network.ways?.some((one) => one.way === 'passcode') ?? false)
const now = computed(() => desk.value?.passcodes.filter((one) => one.network === props.network.name) ?? [])
const clock = computed({
  get: () => {
    const at = way.value.at_minute ?? 300
    return `${String(Math.floor(at / 60)).padStart(2, '0')}:${String(at % 60).padStart(2, '0')}`
  },
  set: (typed: string) => {
    const [hour, minute] = typed.split(':').map(Number)
    if (hour !== undefined && minute !== undefined && !Number.isNaN(hour + minute))
      way.value.at_minute = hour * 60 + minute
  },
})

let typing = 0
async function say(): Promise<void> {
  const mine = ++typing
  const found = await got(api.POST('/api/passcodes/words', { body: way.value })).catch(() => null)
  if (mine === typing) words.value = found
}
async function load(): Promise<void> {
  desk.value = (await read(() => got(api.GET('/api/desk')))) ?? null
}
async function renew(own: string | null): Promise<void> {
  const params = { path: { network: props.network.id } }
  if (await act(() => got(api.POST('/api/networks/{network}/passcode', { params, body: { text: own } })))) {
    text.value = ''
    await load()
  }
}
async function endOverlap(): Promise<void> {
  if (
    await act(() =>
      got(
        api.POST('/api/networks/{network}/passcode/end-overlap', {
          params: { path: { network: props.network.id } },
        }),
      ),
    )
  )
    await load()
}
watch(way, say, { deep: true, immediate: true })
onMounted(load)
</script>

<template>
  <div class="settings">
    <v-select v-model="way.plan" :items="plans" label="Plan" :error-messages="faults" />
    <v-select v-model="way.schedule" :items="SCHEDULES" label="It changes" />
    <v-select v-if="way.schedule === 'weekly'" v-model="way.weekday" :items="WEEKDAYS" label="On" />
    <v-select v-if="way.schedule === 'hourly'" v-model="way.every_hours" :items="HOURS" label="Every" />
    <v-text-field
      v-if="way.schedule === 'daily' || way.schedule === 'weekly'"
      v-model="clock"
      type="time"
      label="At"
    />
    <v-text-field
      v-model.number="way.overlap_minutes"
      label="The one before still works for"
      suffix="min"
      inputmode="numeric"
    />
    <template v-if="way.schedule !== 'never'">
      <v-select v-model="way.signs" :items="SIGNS" label="Made of" />
      <v-text-field v-model.number="way.length" label="Length" inputmode="numeric" />
    </template>
    <v-text-field
      v-model.lazy="tells"
      class="tells"
      label="A new one is sent to"
      placeholder="nobody"
      persistent-placeholder
      hint="Mail addresses and phone numbers of those who hand it out, with commas between them."
      persistent-hint
    />
  </div>
  <p class="says" aria-live="polite">
    {{ words?.chance ?? 'Four to twelve signs; every hour that divides a day.' }}
  </p>
  <div v-if="isSaved" class="hand">
    <span v-for="one in now" :key="one.code" class="good">
      <span class="mono code">{{ one.code }}</span>
      <span class="soft">
        {{ one.is_former ? 'the one before' : 'now'
        }}<template v-if="one.until">, until {{ times.clock(one.until) }}</template>
      </span>
    </span>
    <v-btn
      v-if="way.schedule !== 'never'"
      size="small"
      :disabled="isBusy"
      title="Another one by the same rule; the one before goes on for its overlap"
      @click="renew(null)"
    >
      New one now
    </v-btn>
    <v-btn v-if="now.length > 1" size="small" :disabled="isBusy" @click="endOverlap">
      End the overlap now
    </v-btn>
    <v-text-field
      v-model="text"
      class="own mono"
      label="Or words of your own"
      maxlength="40"
      :error-messages="fault('text')"
      @keydown.enter.prevent="renew(text)"
    />
    <v-btn size="small" :disabled="isBusy || !text.trim()" @click="renew(text)">Set</v-btn>
  </div>
  <p v-else class="soft">Once saved, it stands on Desk, and can be set by hand here.</p>
  <ProblemNote v-if="problem && !problem.field" :problem="problem" />
</template>

<style scoped>
.settings {
  display: grid;
  align-items: start;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px;
  padding: 10px 0 4px;
  max-width: 1000px;
}
.says {
  margin: 6px 0 10px;
}
.hand {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin-bottom: 8px;
}
.good {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}
.code {
  font-size: 20px;
  font-weight: 700;
}
.own {
  flex: 0 1 240px;
}
</style>
