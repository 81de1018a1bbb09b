<script setup lang="ts">
// A plan as it is typed, with the sentence that it amounts to and whom a change of it touches.
import { computed, onMounted, ref, watch } from 'vue'
import type { VTextField } from 'vuetify/components'

import { api, got, type Hours, type PlanFull, type PlanWords } from '../../api/client'
import HoursField from '../../parts/HoursField.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import { useAct } from '../../use/useAct'
import { DATA, meant, RATES, shown, TIMES } from '../../parts/amounts'
import AmountField from '../../parts/AmountField.vue'

const props = defineProps<{ plan: PlanFull | null; copied: PlanFull | null }>()
const emit = defineEmits<{ saved: [plan: PlanFull]; removed: []; close: []; copy: [plan: PlanFull] }>()
const { isBusy, problem, act, fault } = useAct()
const from = props.plan ?? props.copied
const nameField = ref<VTextField | null>(null)
onMounted(() => nameField.value?.focus())
const name = ref(props.copied ? `${props.copied.name}, copy` : (props.plan?.name ?? ''))
const time = ref(shown(from?.seconds, TIMES, 3600))
const data = ref(shown(from?.octets, DATA, 1e9))
const idle = ref(shown(from?.idle_seconds, TIMES, 60))
const within = ref(shown(from?.use_within_days, [{ title: 'days', value: 1 }], 1))
const devices = ref(String(from?.devices ?? 1))
const down = ref(shown(from?.down_bps, RATES, 1e6))
const up = ref(shown(from?.up_bps, RATES, 1e6))
const hours = ref<Hours | null>(from?.hours ?? null)
const words = ref<PlanWords | null>(null)

const wanted = computed(() => ({
  name: name.value,
  seconds: meant(time.value),
  octets: meant(data.value),
  idle_seconds: meant(idle.value),
  use_within_days: meant(within.value),
  devices: Number(devices.value),
  down_bps: meant(down.value),
  up_bps: meant(up.value),
  hours: hours.value,
}))

let typing = 0
async function say(): Promise<void> {
  const mine = ++typing
  await new Promise((resolve) => setTimeout(resolve, 150))
  if (mine !== typing) return
  const asked = { ...wanted.value, name: wanted.value.name || 'New plan' }
  const params = { query: { plan: props.plan?.id ?? 0 } }
  const found = await got(api.POST('/api/plans/words', { params, body: asked })).catch(() => null)
  if (mine === typing) words.value = found
}
watch(wanted, say, { deep: true, immediate: true })

async function save(): Promise<void> {
  const plan = props.plan
  const saved = await act(() =>
    plan
      ? got(api.PUT('/api/plans/{plan}', { params: { path: { plan: plan.id } }, body: wanted.value }))
      : got(api.POST('/api/plans', { body: wanted.value })),
  )
  if (saved) emit('saved', saved)
}
</script>

<template>
  <form class="form" :aria-label="plan ? `The plan ${plan.name}` : 'A new plan'" @submit.prevent="save">
    <div class="fields">
      <v-text-field
        ref="nameField"
        v-model="name"
        label="Name"
        maxlength="60"
        required
        :error-messages="fault('name')"
      />
      <AmountField
        v-model="time"
        label="Time from first use"
        name="seconds"
        :units="TIMES"
        :problem="problem"
      />
      <AmountField v-model="data" label="Data, both ways" name="octets" :units="DATA" :problem="problem" />
      <v-text-field
        v-model="devices"
        label="Devices at once"
        inputmode="numeric"
        :error-messages="fault('devices')"
      />
      <AmountField
        v-model="down"
        label="Rate to the guest"
        name="down_bps"
        :units="RATES"
        :problem="problem"
      />
      <AmountField v-model="up" label="Rate from the guest" name="up_bps" :units="RATES" :problem="problem" />
      <AmountField
        v-model="idle"
        label="Ends when idle for"
        name="idle_seconds"
        :units="TIMES"
        :problem="problem"
      />
      <v-text-field
        v-model="within.text"
        label="To be used within"
        placeholder="no limit"
        suffix="days"
        inputmode="numeric"
        persistent-placeholder
        :error-messages="fault('use_within_days')"
      />
    </div>
    <HoursField
      v-model="hours"
      label="Hours, by the clock of the site"
      always="Good at any hour."
      :faults="fault('hours')"
    />
    <p class="says" aria-live="polite">
      <b>{{ words?.sentence ?? 'Something in there is no number that a plan can hold.' }}</b>
      <span v-if="words" class="soft"> On the slip: {{ words.slip }}.</span>
    </p>
    <p v-if="words?.touches" class="note">{{ words.touches }}</p>
    <p v-for="line in words?.ignored" :key="line" class="note">{{ line }}</p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ plan ? 'Save' : 'Add plan' }}
      </v-btn>
      <v-btn v-if="plan" class="changes" @click="emit('copy', plan)">Copy</v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="plan"
        :remove="() => api.DELETE('/api/plans/{plan}', { params: { path: { plan: plan!.id } } })"
        label="Remove plan"
        @removed="emit('removed')"
      />
      <span v-if="plan && (plan.inside || plan.unused)" class="soft">
        Removed, it can be chosen no more; what was issued with it goes on.
      </span>
    </div>
  </form>
</template>

<style scoped>
.form {
  padding: 14px 0;
}
.fields {
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 12px 20px;
}
.says {
  margin: 14px 0 8px;
  font-size: 16px;
}
.note {
  margin: 0 0 10px;
}
@media (max-width: 1000px) {
  .fields {
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 600px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
