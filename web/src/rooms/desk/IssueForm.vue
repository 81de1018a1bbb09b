<script lang="ts">
import type { Plan } from '../../api/client'

/** What stands in the composer, for the slip beside it. */
export interface Composed {
  plan: Plan | null
  count: number
  label: string
  way: string
}
</script>

<script setup lang="ts">
// The composer: for whom, what, under which plan; Enter issues it.
import { computed, nextTick, ref, watch } from 'vue'
import type { VTextField } from 'vuetify/components'

import { ApiProblem, call, type Batch, type Desk, type Job } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ desk: Desk | null }>()
const emit = defineEmits<{ issued: [batch: Batch]; shows: [composed: Composed] }>()
const { isBusy, problem, act, fault } = useAct()
const WHAT = [
  { value: 'voucher', title: 'Voucher' },
  { value: 'guest_pass', title: 'Guest pass' },
]
const FEW = 100
const what = ref('voucher')
const planId = ref<number | null>(null)
const count = ref(1)
const label = ref('')
const until = ref('')
const devices = ref('')
const code = ref('')
const job = ref<Job | null>(null)
const labelField = ref<VTextField | null>(null)
const countField = ref<VTextField | null>(null)
const isPass = computed(() => what.value === 'guest_pass')
const plan = computed(() => props.desk?.plans.find((p) => p.id === planId.value) ?? null)
watch(
  () => props.desk,
  (desk) => (planId.value ??= desk?.plans[0]?.id ?? null),
  { immediate: true },
)
watch([plan, count, label, what], () => {
  emit('shows', {
    plan: plan.value,
    count: isPass.value ? 1 : Number(count.value),
    label: label.value,
    way: what.value,
  })
})

/** Many take a while: how far they are is shown, and Cancel takes all of them back. */
async function issueLong(wish: object): Promise<Batch | undefined> {
  job.value = await call<Job>('POST', '/api/batches/job', wish)
  while (job.value.state === 'running') {
    await new Promise((resolve) => setTimeout(resolve, 300))
    job.value = await call<Job>('GET', `/api/jobs/${job.value.id}`)
  }
  const { batch, state, error } = job.value
  job.value = null
  if (state === 'failed') throw new ApiProblem(422, 'job', 'That did not work', error ?? '', null)
  return batch === null ? undefined : call<Batch>('GET', `/api/batches/${batch}`)
}
async function cancel(): Promise<void> {
  if (job.value) await call<Job>('POST', `/api/jobs/${job.value.id}/cancel`)
}

async function issue(many: number): Promise<void> {
  const batch = await act(() => (isPass.value ? issuePass() : issueVouchers(many)))
  if (!batch) return
  label.value = code.value = ''
  emit('issued', batch)
}
function issueVouchers(many: number): Promise<Batch | undefined> {
  const wish = { plan: planId.value, count: many, label: label.value }
  return many > FEW ? issueLong(wish) : call<Batch>('POST', '/api/batches', wish)
}
function issuePass(): Promise<Batch> {
  return call<Batch>('POST', '/api/passes', {
    plan: planId.value,
    label: label.value,
    until: until.value || null,
    devices: devices.value ? Number(devices.value) : null,
    code: code.value || null,
  })
}

function focus(field: 'label' | 'count'): void {
  if (field === 'count') what.value = 'voucher'
  void nextTick(() => {
    const found = field === 'count' ? countField.value : labelField.value
    found?.focus()
    found?.select()
  })
}
defineExpose({ focus })
</script>

<template>
  <form @submit.prevent="issue(Number(count))">
    <div class="composer">
      <v-text-field
        ref="labelField"
        v-model="label"
        class="wide"
        variant="plain"
        density="default"
        :label="isPass ? 'Guest' : 'For, if you like'"
        maxlength="80"
        placeholder="name, party or occasion"
        persistent-placeholder
        :required="isPass"
        :error-messages="fault('label')"
      />
      <v-select v-model="what" class="what" variant="plain" density="default" label="What" :items="WHAT" />
      <v-select
        v-model="planId"
        variant="plain"
        density="default"
        label="Plan"
        :items="desk?.plans ?? []"
        item-title="name"
        item-value="id"
      />
      <v-text-field
        v-if="!isPass"
        ref="countField"
        v-model="count"
        class="small"
        variant="plain"
        density="default"
        label="How many"
        type="number"
        min="1"
        max="10000"
        required
      />
    </div>
    <div v-if="isPass" class="more">
      <v-text-field
        v-model="until"
        label="Good until"
        type="datetime-local"
        hint="Empty: as its plan says."
        persistent-hint
        persistent-placeholder
        :error-messages="fault('until')"
      />
      <v-text-field
        v-model="devices"
        label="Devices at once"
        inputmode="numeric"
        :placeholder="`${plan ? plan.devices : 1}, as the plan says`"
        persistent-placeholder
        hint="More for a party."
        persistent-hint
        :error-messages="fault('devices')"
      />
      <v-text-field
        v-model="code"
        class="mono"
        label="Code"
        maxlength="40"
        placeholder="one is proposed"
        persistent-placeholder
        hint="Or choose one: 6 letters and digits at least."
        persistent-hint
        :error-messages="fault('code')"
      />
    </div>
    <p class="soft sentence">{{ plan?.sentence }}</p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="row">
      <v-btn type="submit" variant="flat" color="primary" size="large" :disabled="isBusy || !plan">
        {{ isPass || Number(count) === 1 ? 'Issue' : `Issue ${count}` }}<kbd>Enter</kbd>
      </v-btn>
      <template v-if="!isPass">
        <v-btn v-for="many in [10, 40]" :key="many" :disabled="isBusy" @click="issue(many)">
          Issue {{ many }}
        </v-btn>
      </template>
    </div>
    <p v-if="job" class="job" role="status">
      <progress :value="job.done" :max="job.of" aria-label="How far it is" />
      {{ job.done }} of {{ job.of }} made. They count once all are there.
      <v-btn size="x-small" @click="cancel">Cancel</v-btn>
    </p>
  </form>
</template>

<style scoped>
.composer {
  display: flex;
  border: 1.5px solid rgb(var(--v-theme-primary));
  border-radius: 10px;
  overflow: hidden;
  background: rgb(var(--v-theme-surface));
}
.composer > * {
  flex: 1;
  padding: 3px 12px;
  border-left: 1px solid rgb(var(--v-theme-hair));
}
.composer > :first-child {
  border-left: 0;
}
.composer .wide {
  flex: 2;
}
.composer .small {
  flex: 0 0 120px;
}
.composer > :focus-within {
  background: rgb(var(--v-theme-tint));
}
.sentence {
  margin: 10px 0;
}
.composer .what {
  flex: 0 0 150px;
}
.more {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
  margin-top: 14px;
}
.sentence {
  margin: 10px 0;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 12px;
}
.job {
  display: flex;
  gap: 12px;
  align-items: center;
  margin: 10px 0 0;
}
progress {
  width: 220px;
  accent-color: rgb(var(--v-theme-primary));
}
@media (max-width: 1000px) {
  .composer {
    flex-wrap: wrap;
  }
  .composer .wide {
    flex: 1 0 100%;
  }
  .more {
    grid-template-columns: 1fr;
  }
}
</style>
