<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { VTextField } from 'vuetify/components'

import { ApiProblem, call, type Batch, type Desk, type Job, type Voucher } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import SlipPreview from './SlipPreview.vue'
import VoucherRow from './VoucherRow.vue'
import { voucherWords } from '../../parts/words'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useTimes } from '../../use/useTimes'

const desk = ref<Desk | null>(null)
const planId = ref<number | null>(null)
const count = ref(1)
const label = ref('')
const latest = ref<Batch | null>(null)
const job = ref<Job | null>(null)
const FEW = 100
const open = ref<Record<number, Voucher[]>>({})
const labelField = ref<VTextField | null>(null)
const countField = ref<VTextField | null>(null)
const { isBusy, problem, act, read } = useAct()
const times = useTimes()
const live = useLive()
const route = useRoute()

const plan = computed(() => desk.value?.plans.find((p) => p.id === planId.value) ?? null)
const batches = computed(() => desk.value?.batches ?? [])
const issued = computed(() => batches.value.reduce((sum, batch) => sum + batch.size, 0))
const used = computed(() => batches.value.reduce((sum, batch) => sum + batch.used, 0))

async function load(): Promise<void> {
  const found = await read(() => call<Desk>('GET', '/api/desk'))
  if (!found) return
  desk.value = found
  planId.value ??= found.plans[0]?.id ?? null
  await Promise.all(Object.keys(open.value).map((id) => refresh(Number(id))))
}

/** Reads again as many vouchers of an open batch as are shown. */
async function refresh(id: number): Promise<void> {
  const shown = open.value[id]?.length ?? 0
  let vouchers: Voucher[] = []
  do {
    const page = await more(id, vouchers)
    if (!page.length) break
    vouchers = [...vouchers, ...page]
  } while (vouchers.length < shown)
  if (open.value[id]) open.value = { ...open.value, [id]: vouchers }
}

async function more(id: number, after: Voucher[]): Promise<Voucher[]> {
  const found = await read(() => call<Batch>('GET', `/api/batches/${id}?after=${after.at(-1)?.id ?? 0}`))
  return found?.vouchers ?? []
}

async function showMore(id: number): Promise<void> {
  const shown = open.value[id] ?? []
  open.value = { ...open.value, [id]: [...shown, ...(await more(id, shown))] }
}

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
  const wish = { plan: planId.value, count: many, label: label.value }
  const batch = await act(() => (many > FEW ? issueLong(wish) : call<Batch>('POST', '/api/batches', wish)))
  if (!batch) return
  latest.value = batch
  open.value = { [batch.id]: batch.vouchers }
  label.value = ''
  await load()
}

async function change(voucher: Voucher, what: string, body?: unknown): Promise<void> {
  const changed = await act(() => call<Voucher>('POST', `/api/vouchers/${voucher.id}/${what}`, body))
  if (changed) await load()
}

function turn(id: number): void {
  const { [id]: wasOpen, ...others } = open.value
  open.value = wasOpen ? others : { ...others, [id]: [] }
  if (!wasOpen) void refresh(id)
}

function print(batch: Batch): void {
  window.open(`/api/batches/${batch.id}/sheet.pdf`, '_blank', 'noopener')
}

function summary(batch: Batch): string {
  const only = batch.vouchers[0]
  if (batch.size === 1 && only) return voucherWords(only)
  const rest = batch.size - batch.used
  const parts = [
    [batch.used, 'used'],
    [rest, 'not used yet'],
    [batch.withdrawn, 'withdrawn'],
  ] as const
  return parts
    .filter(([n]) => n)
    .map(([n, word]) => `${n} ${word}`)
    .join(', ')
}

function focusWanted(): void {
  void nextTick(() => {
    const field = route.query.focus === 'many' ? countField.value : labelField.value
    field?.focus()
    field?.select()
  })
}

onMounted(async () => {
  await load()
  focusWanted()
})
watch(() => route.fullPath, focusWanted)
watch(() => live.now?.line?.id, load)
useKeys({
  n: () => labelField.value?.focus(),
  b: () => countField.value?.select(),
  Escape: () => (document.activeElement as HTMLElement | null)?.blur(),
  p: () => {
    const batch = latest.value ?? batches.value[0]
    if (batch) print(batch)
  },
})
</script>

<template>
  <div class="room desk">
    <div>
      <h1>Issue vouchers</h1>
      <form @submit.prevent="issue(Number(count))">
        <div class="composer">
          <v-text-field
            ref="labelField"
            v-model="label"
            class="wide"
            variant="plain"
            density="default"
            label="For, if you like"
            maxlength="80"
            placeholder="name, party or occasion"
            persistent-placeholder
          />
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
        <p class="soft sentence">{{ plan?.sentence }}</p>
        <ProblemNote :problem="problem" />
        <div class="row">
          <v-btn type="submit" variant="flat" color="primary" size="large" :disabled="isBusy || !plan">
            {{ Number(count) === 1 ? 'Issue' : `Issue ${count}` }}<kbd>Enter</kbd>
          </v-btn>
          <v-btn v-for="many in [10, 40]" :key="many" :disabled="isBusy" @click="issue(many)">
            Issue {{ many }}
          </v-btn>
        </div>
        <p v-if="job" class="job" role="status">
          <progress :value="job.done" :max="job.of" aria-label="How far it is" />
          {{ job.done }} of {{ job.of }} made. They count once all are there.
          <v-btn size="x-small" @click="cancel">Cancel</v-btn>
        </p>
      </form>
      <h2 class="today">
        Today and yesterday <span class="soft plain">· {{ issued }} issued, {{ used }} used</span>
      </h2>
      <div v-if="batches.length" class="scroll">
        <table class="list">
          <thead>
            <tr>
              <th>For</th>
              <th class="roomy">Plan</th>
              <th>Code</th>
              <th>State</th>
              <th class="roomy">Issued</th>
              <th><span class="away">Actions</span></th>
            </tr>
          </thead>
          <tbody v-for="batch in batches" :key="batch.id">
            <tr class="batch">
              <td>
                <button class="turn" :aria-expanded="!!open[batch.id]" @click="turn(batch.id)">
                  <span class="arrow" aria-hidden="true">{{ open[batch.id] ? '▾' : '▸' }}</span>{{
                    batch.label || 'Walk-in'
                  }}
                </button>
              </td>
              <td class="roomy">{{ batch.plan }}</td>
              <td class="mono">{{ batch.size === 1 ? batch.vouchers[0]?.code : `${batch.size} codes` }}</td>
              <td>{{ summary(batch) }}</td>
              <td class="soft roomy" :title="times.exact(batch.issued_at)">
                {{ times.clock(batch.issued_at) }}, {{ batch.issued_by }}
              </td>
              <td class="acts">
                <v-btn size="x-small" :aria-label="`Print ${batch.label || 'Walk-in'}`" @click="print(batch)"
                  >Print</v-btn
                >
              </td>
            </tr>
            <tr v-if="open[batch.id]">
              <td colspan="6" class="nest">
                <table class="list">
                  <tbody>
                    <VoucherRow
                      v-for="voucher in open[batch.id]"
                      :key="voucher.id"
                      :voucher="voucher"
                      :busy="isBusy"
                      :is-new="latest?.id === batch.id"
                      @give="(seconds) => change(voucher, 'give-time', { seconds })"
                      @withdraw="change(voucher, 'withdraw')"
                    />
                  </tbody>
                </table>
                <v-btn
                  v-if="(open[batch.id]?.length ?? 0) < batch.size"
                  size="small"
                  class="mt-2"
                  @click="showMore(batch.id)"
                >
                  More of {{ batch.size }}
                </v-btn>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else class="empty">
        Nothing issued today or yesterday. Choose a plan and press Enter: the code shows at once, ready to
        print.
      </p>
    </div>
    <aside v-if="desk">
      <SlipPreview
        :desk="desk"
        :plan="plan"
        :voucher="latest?.vouchers[0] ?? null"
        :count="latest?.size ?? Number(count)"
        :label="latest ? latest.label : label"
      />
      <div v-if="latest" class="row">
        <v-btn variant="flat" color="primary" @click="print(latest)"
          >Print {{ latest.size === 1 ? 'the slip' : `${latest.size} slips` }}<kbd>p</kbd></v-btn
        >
        <span class="soft">A4, made as a PDF</span>
      </div>
    </aside>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 30px;
}
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
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 12px;
}
.plain {
  font-weight: 400;
}
.scroll {
  overflow-x: auto;
  position: relative;
}
.today {
  margin-top: 26px;
}
.turn {
  font-weight: 700;
}
.arrow {
  display: inline-block;
  width: 18px;
  color: rgb(var(--v-theme-soft));
}
.acts {
  text-align: right;
  padding-right: 0 !important;
}
.nest {
  padding: 0 0 14px 26px !important;
  height: auto !important;
}
aside {
  position: sticky;
  top: calc(var(--top) + 20px);
  align-self: start;
}
@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  aside {
    position: static;
  }
  .composer {
    flex-wrap: wrap;
  }
  .composer .wide {
    flex: 1 0 100%;
  }
}
@media (max-width: 700px) {
  .roomy {
    display: none;
  }
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
</style>
