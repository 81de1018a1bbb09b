<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { call, type Batch, type Desk, type Voucher } from '../api/client'
import ProblemNote from '../parts/ProblemNote.vue'
import SlipPreview from '../parts/SlipPreview.vue'
import VoucherRow from '../parts/VoucherRow.vue'
import { useLive } from '../stores/live'
import { useAct } from '../use/useAct'
import { useKeys } from '../use/useKeys'
import { useTimes } from '../use/useTimes'

const desk = ref<Desk | null>(null)
const planId = ref<number | null>(null)
const count = ref(1)
const label = ref('')
const latest = ref<Batch | null>(null)
const open = ref<Set<number>>(new Set())
const labelField = ref<HTMLInputElement | null>(null)
const countField = ref<HTMLInputElement | null>(null)
const { isBusy, problem, act, read } = useAct()
const times = useTimes()
const live = useLive()
const route = useRoute()

const plan = computed(() => desk.value?.plans.find((p) => p.id === planId.value) ?? null)
const batches = computed(() => desk.value?.batches ?? [])
const issued = computed(() => batches.value.reduce((sum, batch) => sum + batch.size, 0))
const running = computed(() => batches.value.flatMap((b) => b.vouchers).filter((v) => v.state === 'running').length)

async function load(): Promise<void> {
  const found = await read(() => call<Desk>('GET', '/api/desk'))
  if (!found) return
  desk.value = found
  planId.value ??= found.plans[0]?.id ?? null
}

async function issue(many: number): Promise<void> {
  const wish = { plan: planId.value, count: many, label: label.value }
  const batch = await act(() => call<Batch>('POST', '/api/batches', wish))
  if (!batch) return
  latest.value = batch
  open.value = new Set([batch.id])
  label.value = ''
  await load()
}

async function change(voucher: Voucher, what: string, body?: unknown): Promise<void> {
  const changed = await act(() => call<Voucher>('POST', `/api/vouchers/${voucher.id}/${what}`, body))
  if (changed) await load()
}

function turn(id: number): void {
  const next = new Set(open.value)
  if (!next.delete(id)) next.add(id)
  open.value = next
}

function print(batch: Batch): void {
  window.open(`/api/batches/${batch.id}/sheet.pdf`, '_blank', 'noopener')
}

function summary(batch: Batch): string {
  const of = (state: string) => batch.vouchers.filter((v) => v.state === state).length
  const parts = [[of('fresh'), 'not used yet'], [of('running'), 'running'], [of('used_up'), 'used up'],
    [of('expired'), 'expired'], [of('withdrawn'), 'withdrawn']] as const
  return parts.filter(([n]) => n).map(([n, word]) => (batch.size === 1 ? word : `${n} ${word}`)).join(', ')
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
  p: () => { const batch = latest.value ?? batches.value[0]; if (batch) print(batch) },
})
</script>

<template>
  <div class="room desk">
    <div>
      <h1>Issue vouchers</h1>
      <form @submit.prevent="issue(Number(count))">
        <div class="composer">
          <label class="wide"><span>For, if you like</span>
            <input ref="labelField" v-model="label" maxlength="80" placeholder="name, party or occasion" /></label>
          <label><span>Plan</span>
            <select v-model="planId"><option v-for="p in desk?.plans" :key="p.id" :value="p.id">{{ p.name }}</option></select></label>
          <label class="small"><span>How many</span>
            <input ref="countField" v-model="count" type="number" min="1" max="500" required /></label>
        </div>
        <p class="soft sentence">{{ plan?.sentence }}</p>
        <ProblemNote :problem="problem" />
        <div class="row">
          <v-btn type="submit" variant="flat" color="primary" size="large" :disabled="isBusy || !plan">
            {{ Number(count) === 1 ? 'Issue' : `Issue ${count}` }}<kbd>Enter</kbd>
          </v-btn>
          <v-btn v-for="many in [10, 40]" :key="many" :disabled="isBusy" @click="issue(many)">Issue {{ many }}</v-btn>
        </div>
      </form>
      <h2 class="today">Today and yesterday <span class="soft plain">· {{ issued }} issued, {{ running }} running</span></h2>
      <div v-if="batches.length" class="scroll">
        <table class="list">
          <thead><tr><th>For</th><th>Plan</th><th>Code</th><th>State</th><th>Issued</th><th><span class="away">Actions</span></th></tr></thead>
          <tbody v-for="batch in batches" :key="batch.id">
            <tr class="batch" :class="{ isopen: open.has(batch.id) }">
              <td>
                <button class="turn" :aria-expanded="open.has(batch.id)" @click="turn(batch.id)">
                  <span class="arrow" aria-hidden="true">{{ open.has(batch.id) ? '▾' : '▸' }}</span>{{ batch.label || 'Walk-in' }}
                </button>
              </td>
              <td>{{ batch.plan }}</td>
              <td class="mono">{{ batch.size === 1 ? batch.vouchers[0]?.code : `${batch.size} codes` }}</td>
              <td>{{ summary(batch) }}</td>
              <td class="soft" :title="times.exact(batch.issued_at)">{{ times.clock(batch.issued_at) }}, {{ batch.issued_by }}</td>
              <td class="acts"><v-btn size="x-small" :aria-label="`Print ${batch.label || 'Walk-in'}`" @click="print(batch)">Print</v-btn></td>
            </tr>
            <tr v-if="open.has(batch.id)">
              <td colspan="6" class="nest">
                <table class="list">
                  <tbody>
                    <VoucherRow
                      v-for="voucher in batch.vouchers" :key="voucher.id" :voucher="voucher" :busy="isBusy"
                      :is-new="latest?.id === batch.id" @give="(seconds) => change(voucher, 'give-time', { seconds })"
                      @withdraw="change(voucher, 'withdraw')"
                    />
                  </tbody>
                </table>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-else class="empty">Nothing issued today or yesterday. Choose a plan and press Enter: the code shows at once, ready to print.</p>
    </div>
    <aside v-if="desk">
      <SlipPreview :desk="desk" :plan="plan" :voucher="latest?.vouchers[0] ?? null" :count="latest?.size ?? Number(count)" />
      <div v-if="latest" class="row">
        <v-btn variant="flat" color="primary" @click="print(latest)">Print {{ latest.size === 1 ? 'the slip' : `${latest.size} slips` }}<kbd>p</kbd></v-btn>
        <span class="soft">A4, made as a PDF</span>
      </div>
    </aside>
  </div>
</template>

<style scoped>
.desk { display: grid; grid-template-columns: minmax(0, 1fr) 340px; gap: 30px; }
.composer { display: flex; border: 1.5px solid rgb(var(--v-theme-primary)); border-radius: 10px; overflow: hidden; background: rgb(var(--v-theme-surface)); }
.composer label { flex: 1; padding: 7px 12px 5px; border-left: 1px solid rgb(var(--v-theme-hair)); }
.composer label:first-child { border-left: 0; }
.composer .wide { flex: 2; }
.composer .small { flex: 0 0 120px; }
.composer label:focus-within { background: rgb(var(--v-theme-tint)); }
.composer span { display: block; font-size: 12.5px; color: rgb(var(--v-theme-soft)); }
.composer input, .composer select { width: 100%; font-size: 16px; height: 28px; color: inherit; background: transparent; outline: none; }
.composer select option { color: #2A2130; background: #fff; }
.sentence { margin: 10px 0; }
.row { display: flex; gap: 10px; align-items: center; margin-top: 12px; }
.plain { font-weight: 400; }
.scroll { overflow-x: auto; }
.today { margin-top: 26px; }
.turn { font-weight: 700; }
.arrow { display: inline-block; width: 18px; color: rgb(var(--v-theme-soft)); }
.acts { text-align: right; padding-right: 0 !important; }
.nest { padding: 0 0 14px 26px !important; height: auto !important; }
aside { position: sticky; top: calc(var(--top) + 20px); align-self: start; }
@media (max-width: 1000px) { .desk { grid-template-columns: minmax(0, 1fr); } aside { position: static; } .composer { flex-wrap: wrap; } .composer .wide { flex: 1 0 100%; } }
</style>
