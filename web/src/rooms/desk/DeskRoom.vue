<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { call, type AccountMade, type Batch, type Desk, type Issued } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import IssueForm, { type Composed } from './IssueForm.vue'
import SlipPreview from './SlipPreview.vue'
import IssuedRow from './IssuedRow.vue'
import WaitingPart from './WaitingPart.vue'
import { issuedWords, wayWords } from '../../parts/words'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useTimes } from '../../use/useTimes'

const desk = ref<Desk | null>(null)
const latest = ref<Batch | null>(null)
/** Of the account that was just issued; it cannot be read again. */
const password = ref<string | null>(null)
const shows = ref<Composed | null>(null)
const open = ref<Record<number, Issued[]>>({})
const composer = ref<InstanceType<typeof IssueForm> | null>(null)
const { isBusy, problem, act, read } = useAct()
const times = useTimes()
const session = useSession()
const live = useLive()
const route = useRoute()

const batches = computed(() => desk.value?.batches ?? [])
const issued = computed(() => batches.value.reduce((sum, batch) => sum + batch.size, 0))
const used = computed(() => batches.value.reduce((sum, batch) => sum + batch.used, 0))

async function load(): Promise<void> {
  const found = await read(() => call<Desk>('GET', '/api/desk'))
  if (!found) return
  desk.value = found
  await Promise.all(Object.keys(open.value).map((id) => refresh(Number(id))))
}

/** Reads again as many vouchers of an open batch as are shown. */
async function refresh(id: number): Promise<void> {
  const shown = open.value[id]?.length ?? 0
  let vouchers: Issued[] = []
  do {
    const page = await more(id, vouchers)
    if (!page.length) break
    vouchers = [...vouchers, ...page]
  } while (vouchers.length < shown)
  if (open.value[id]) open.value = { ...open.value, [id]: vouchers }
}

async function more(id: number, after: Issued[]): Promise<Issued[]> {
  const found = await read(() => call<Batch>('GET', `/api/batches/${id}?after=${after.at(-1)?.id ?? 0}`))
  return found?.issued ?? []
}

async function showMore(id: number): Promise<void> {
  const shown = open.value[id] ?? []
  open.value = { ...open.value, [id]: [...shown, ...(await more(id, shown))] }
}

/** What was just issued is open, and stands on the slip. */
async function took(batch: Batch, word: string | null): Promise<void> {
  latest.value = batch
  password.value = word
  open.value = { [batch.id]: batch.issued }
  await load()
}

async function renew(issued: Issued): Promise<void> {
  const made = await act(() => call<AccountMade>('POST', `/api/issued/${issued.id}/password`, {}))
  if (made) await took(made.batch, made.password)
}

async function change(voucher: Issued, what: string, body?: unknown): Promise<void> {
  const changed = await act(() => call<Issued>('POST', `/api/issued/${voucher.id}/${what}`, body))
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
  const only = batch.issued[0]
  if (batch.size === 1 && only) return issuedWords(only)
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
    composer.value?.focus(route.query.focus === 'many' ? 'count' : 'label')
  })
}

onMounted(async () => {
  await load()
  focusWanted()
})
watch(() => route.fullPath, focusWanted)
watch(() => live.now?.line?.id, load)
useKeys({
  n: () => composer.value?.focus('label'),
  b: () => composer.value?.focus('count'),
  Escape: () => (document.activeElement as HTMLElement | null)?.blur(),
  p: () => {
    const batch = latest.value ?? batches.value[0]
    if (batch && batch.way !== 'account') print(batch)
  },
})
</script>

<template>
  <div class="room desk">
    <div>
      <h1 v-if="session.may('issue')">Issue</h1>
      <h1 v-else>Desk</h1>
      <IssueForm
        v-if="session.may('issue')"
        ref="composer"
        :desk="desk"
        @issued="took"
        @shows="shows = $event"
      />
      <ProblemNote :problem="problem" />
      <WaitingPart class="today" />
      <h2 class="today">
        Today and yesterday <span class="soft plain">· {{ issued }} issued, {{ used }} used</span>
      </h2>
      <div v-if="batches.length" class="scroll">
        <table class="list">
          <thead>
            <tr>
              <th>For</th>
              <th class="roomy">What</th>
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
              <td class="roomy">
                {{ batch.plan
                }}<template v-if="batch.way !== 'voucher'">, {{ wayWords(batch.way) }}</template>
              </td>
              <td class="mono">{{ batch.size === 1 ? batch.issued[0]?.code : `${batch.size} codes` }}</td>
              <td>{{ summary(batch) }}</td>
              <td class="soft roomy" :title="times.exact(batch.issued_at)">
                {{ times.clock(batch.issued_at) }}, {{ batch.issued_by }}
              </td>
              <td class="acts">
                <v-btn
                  v-if="batch.way !== 'account'"
                  size="x-small"
                  :aria-label="`Print ${batch.label || 'Walk-in'}`"
                  @click="print(batch)"
                  >Print</v-btn
                >
              </td>
            </tr>
            <tr v-if="open[batch.id]">
              <td colspan="6" class="nest">
                <table class="list">
                  <tbody>
                    <IssuedRow
                      v-for="voucher in open[batch.id]"
                      :key="voucher.id"
                      :issued="voucher"
                      :busy="isBusy"
                      :is-new="latest?.id === batch.id"
                      :sends="desk?.sends ?? []"
                      :problem="problem"
                      @send="(to) => change(voucher, 'send', to)"
                      @give="(seconds) => change(voucher, 'give-time', { seconds })"
                      @withdraw="change(voucher, 'withdraw')"
                      @pause="change(voucher, voucher.state === 'paused' ? 'resume' : 'pause')"
                      @forget="change(voucher, 'forget')"
                      @renew="renew(voucher)"
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
      <section v-if="desk.passcodes.length" class="passcodes" aria-label="Passcodes that are good now">
        <p v-for="one in desk.passcodes" :key="one.network + one.code" :class="{ former: one.is_former }">
          <span class="soft">
            {{ one.network }}, {{ one.is_former ? 'the passcode before' : 'passcode' }}
          </span>
          <span class="mono">{{ one.code }}</span>
          <span v-if="one.until" class="soft" :title="times.exact(one.until)">
            until {{ times.clock(one.until) }},
            {{ times.duration(Math.max(0, one.until - times.now.value)) }} left
          </span>
          <span v-else class="soft">until somebody changes it</span>
        </p>
      </section>
      <SlipPreview
        :desk="desk"
        :plan="shows?.plan ?? null"
        :issued="latest?.issued[0] ?? null"
        :way="latest?.way ?? shows?.way ?? 'voucher'"
        :count="latest?.size ?? shows?.count ?? 1"
        :label="latest ? latest.label : (shows?.label ?? '')"
        :password="password"
      />
      <div v-if="latest && latest.way !== 'account'" class="row">
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
.row {
  margin-top: 12px;
}
.plain {
  font-weight: 400;
}
.scroll {
  overflow-x: auto;
  position: relative;
}
.passcodes {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  margin-bottom: 16px;
  padding-bottom: 6px;
}
.passcodes p {
  display: grid;
  margin: 0 0 10px;
}
.passcodes .mono {
  font-size: 32px;
  line-height: 1.2;
  font-weight: 700;
  letter-spacing: 0.06em;
  overflow-wrap: anywhere;
}
.passcodes .former .mono {
  font-size: 18px;
  font-weight: 400;
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
}
@media (max-width: 700px) {
  .roomy {
    display: none;
  }
}
</style>
