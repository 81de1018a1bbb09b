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

import { ApiProblem, call, type AccountMade, type Batch, type Desk, type Job } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import HolderFields from './HolderFields.vue'
import TermsFields from './TermsFields.vue'
import SendFields from './SendFields.vue'
import { asPlanned, nobody, nowhere, sentHolder, sentTerms, sentTo } from './holder'
import { useAct } from '../../use/useAct'

const props = defineProps<{ desk: Desk | null }>()
const emit = defineEmits<{ issued: [batch: Batch, password: string | null]; shows: [composed: Composed] }>()
const { isBusy, problem, act, fault } = useAct()
const WHAT = [
  { value: 'voucher', title: 'Voucher' },
  { value: 'guest_pass', title: 'Guest pass' },
  { value: 'account', title: 'Account' },
]
const FEW = 100
const what = ref('voucher')
const planId = ref<number | null>(null)
const count = ref(1)
const label = ref('')
const holder = ref(nobody())
const terms = ref(asPlanned())
const send = ref(nowhere())
/** Whether a voucher has terms of its own; a pass and an account always may. */
const hasTerms = ref(false)
const job = ref<Job | null>(null)
const labelField = ref<VTextField | null>(null)
const countField = ref<VTextField | null>(null)
const isAccount = computed(() => what.value === 'account')
const isMany = computed(() => what.value === 'voucher')
const plan = computed(() => props.desk?.plans.find((p) => p.id === planId.value) ?? null)
watch(
  () => props.desk,
  (desk) => (planId.value ??= desk?.plans[0]?.id ?? null),
  { immediate: true },
)
watch([plan, count, label, what], () => {
  emit('shows', {
    plan: plan.value,
    count: isMany.value ? Number(count.value) : 1,
    label: label.value,
    way: what.value,
  })
})

/** Many take a while: how far they are is shown, and Cancel takes all of them back. */
async function issueLong(asked: object): Promise<Batch | undefined> {
  job.value = await call<Job>('POST', '/api/batches/job', asked)
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
  const made = await act(() => (isMany.value ? issueVouchers(many) : issueHeld()))
  if (!made) return
  label.value = ''
  holder.value = nobody()
  send.value = { ...nowhere(), lang: send.value.lang }
  terms.value = asPlanned()
  hasTerms.value = false
  if ('password' in made) emit('issued', made.batch, made.password)
  else emit('issued', made, null)
}
function issueVouchers(many: number): Promise<Batch | undefined> {
  const own = hasTerms.value ? sentTerms(terms.value) : {}
  const asked = { plan: planId.value, count: many, label: label.value, ...own }
  return many > FEW ? issueLong(asked) : call<Batch>('POST', '/api/batches', asked)
}
function issueHeld(): Promise<Batch | AccountMade> {
  const asked = {
    plan: planId.value,
    label: label.value,
    ...sentTerms(terms.value),
    ...sentHolder(holder.value, isAccount.value),
    send: sentTo(send.value),
  }
  return call('POST', isAccount.value ? '/api/accounts' : '/api/passes', asked)
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
        :label="isMany ? 'For, if you like' : 'Guest'"
        maxlength="80"
        placeholder="name, party or occasion"
        persistent-placeholder
        :required="!isMany"
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
        v-if="isMany"
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
    <div v-if="!isMany || hasTerms" class="more">
      <HolderFields v-if="!isMany" v-model="holder" :is-account="isAccount" :problem="problem" />
      <SendFields v-if="!isMany" v-model="send" :sends="desk?.sends ?? []" :problem="problem" />
      <TermsFields v-model="terms" :plan="plan" :what="what" :problem="problem" />
    </div>
    <p class="soft sentence">{{ plan?.sentence }}</p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="row">
      <v-btn type="submit" variant="flat" color="primary" size="large" :disabled="isBusy || !plan">
        {{ !isMany || Number(count) === 1 ? 'Issue' : `Issue ${count}` }}<kbd>Enter</kbd>
      </v-btn>
      <template v-if="isMany">
        <v-btn v-for="many in [10, 40]" :key="many" :disabled="isBusy" @click="issue(many)">
          Issue {{ many }}
        </v-btn>
        <v-btn variant="text" :aria-expanded="hasTerms" @click="hasTerms = !hasTerms">
          {{ hasTerms ? 'As the plan says' : 'Other terms' }}
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
.row {
  margin-top: 12px;
}
.more {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  align-items: start;
  gap: 18px 14px;
  margin-top: 16px;
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
  .more {
    grid-template-columns: 1fr;
  }
  .composer {
    flex-wrap: wrap;
  }
  .composer .wide {
    flex: 1 0 100%;
  }
}
</style>
