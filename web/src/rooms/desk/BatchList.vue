<script setup lang="ts">
// What was issued today and yesterday, batch by batch; each opens to its codes, a hundred at a time.
import { ref, watch } from 'vue'

import { api, got, type Batch, type Issued } from '../../api/client'
import { issuedWords, wayWords } from '../../parts/words'
import { useSession } from '../../stores/session'
import { inOrder } from '../../use/inOrder'
import { useAct } from '../../use/useAct'
import { useTimes } from '../../use/useTimes'
import IssuedRow from './IssuedRow.vue'
import type { sentTo } from './wish'
import type { ApiProblem } from '../../api/client'

const props = defineProps<{
  batches: Batch[]
  latest: Batch | null
  picked: Map<number, Issued>
  sends: string[]
  busy: boolean
  problem: ApiProblem | null
}>()
const emit = defineEmits<{
  pick: [issued: Issued]
  print: [batch: Batch, unused: boolean]
  send: [issued: Issued, to: NonNullable<ReturnType<typeof sentTo>>]
  act: [issued: Issued, what: 'forget']
  renew: [issued: Issued]
  shown: [issued: Issued[]]
}>()
const { read } = useAct()
const times = useTimes()
const session = useSession()
const open = ref<Record<number, Issued[]>>({})
const orders = new Map<number, ReturnType<typeof inOrder>>()

async function page(id: number, after: Issued[]): Promise<Issued[] | undefined> {
  const found = await read(() =>
    got(
      api.GET('/api/batches/{batch}', {
        params: { path: { batch: id }, query: { after: after.at(-1)?.id ?? 0 } },
      }),
    ),
  )
  return found?.issued
}
async function asShown(id: number): Promise<Issued[] | undefined> {
  const shown = open.value[id]?.length ?? 0
  let found: Issued[] = []
  do {
    const more = await page(id, found)
    if (!more) return undefined
    if (!more.length) break
    found = [...found, ...more]
  } while (found.length < shown)
  return found
}
/** Reads again as many codes of an open batch as are shown. */
async function refresh(id: number): Promise<void> {
  const order = orders.get(id) ?? inOrder()
  orders.set(id, order)
  const found = await order(() => asShown(id))
  if (found && open.value[id]) open.value = { ...open.value, [id]: found }
  if (found) emit('shown', found)
}
async function more(id: number): Promise<void> {
  const shown = open.value[id] ?? []
  open.value = { ...open.value, [id]: [...shown, ...((await page(id, shown)) ?? [])] }
}
function turn(id: number): void {
  const { [id]: wasOpen, ...others } = open.value
  open.value = wasOpen ? others : { ...others, [id]: [] }
  if (!wasOpen) void refresh(id)
}
watch(
  () => props.latest?.id,
  // One code stands in its row already; many are shown at once.
  (id) => id !== undefined && !open.value[id] && props.latest?.size !== 1 && turn(id),
  { immediate: true }, // the first batch of a house brings this list with it
)
watch(
  () => props.batches,
  () => Object.keys(open.value).forEach((id) => void refresh(Number(id))),
)

function summary(batch: Batch): string {
  const only = batch.issued[0]
  if (batch.size === 1 && only) return issuedWords(only)
  const parts = [
    [batch.used, 'used'],
    [batch.size - batch.used - batch.withdrawn, 'not used'],
    [batch.withdrawn, 'withdrawn'],
  ] as const
  return parts
    .filter(([n]) => n > 0)
    .map(([n, word]) => `${n.toLocaleString('en')} ${word}`)
    .join(', ')
}
const isAll = (id: number) => open.value[id]?.every((one) => props.picked.has(one.id)) ?? false
function pickAll(id: number): void {
  const all = isAll(id)
  for (const one of open.value[id] ?? []) if (props.picked.has(one.id) === all) emit('pick', one)
}
</script>

<template>
  <div class="scroll">
    <table class="list">
      <thead>
        <tr>
          <th v-if="session.may('help')" class="pick"><span class="away">Pick</span></th>
          <th>For</th>
          <th class="roomy">What</th>
          <th>Code</th>
          <th>State</th>
          <th class="issued">Issued</th>
          <th><span class="away">Actions</span></th>
        </tr>
      </thead>
      <tbody v-for="batch in batches" :key="batch.id">
        <tr class="batch">
          <td v-if="session.may('help')" class="pick">
            <input
              v-if="batch.size === 1 && batch.issued[0]"
              type="checkbox"
              :checked="picked.has(batch.issued[0].id)"
              :aria-label="`Pick ${batch.issued[0].code} of ${batch.label || 'Walk-in'}`"
              @change="emit('pick', batch.issued[0])"
            />
          </td>
          <td class="for">
            <button class="turn" :aria-expanded="!!open[batch.id]" @click="turn(batch.id)">
              <span class="arrow" aria-hidden="true">{{ open[batch.id] ? '▾' : '▸' }}</span>{{
                batch.label || 'Walk-in'
              }}
            </button>
            <span v-if="batch.note" class="soft note-for-us" :title="batch.note">· {{ batch.note }}</span>
          </td>
          <td class="roomy">
            {{ batch.plan }}<template v-if="batch.way !== 'voucher'">, {{ wayWords(batch.way) }}</template>
          </td>
          <td class="mono codes">
            <router-link
              v-if="batch.way === 'passphrase' && batch.size === 1"
              :to="`/passphrases?key=${batch.issued[0]?.id}`"
              >in Passphrases</router-link
            >
            <template v-else-if="batch.size === 1">{{ batch.issued[0]?.code }}</template>
            <template v-else
              >{{ batch.size.toLocaleString('en') }}
              {{ batch.way === 'passphrase' ? 'passphrases' : 'codes' }}</template
            >
          </td>
          <td class="state">
            {{ summary(batch) }}
            <span v-if="batch.takings" class="soft takings">· takings {{ batch.takings }}</span>
          </td>
          <td class="soft issued" :title="times.exact(batch.issued_at)">
            {{ times.clock(batch.issued_at)
            }}{{ batch.issued_by === session.session?.name ? '' : `, ${batch.issued_by ?? 'at the page'}` }}
          </td>
          <td class="acts">
            <template v-if="batch.way !== 'account' && !batch.is_hidden">
              <v-btn
                v-if="batch.size > 1 && batch.used + batch.withdrawn > 0 && batch.used < batch.size"
                size="x-small"
                variant="text"
                title="Slips of those alone that nobody has used"
                @click="emit('print', batch, true)"
                >Unused</v-btn
              >
              <v-btn
                size="x-small"
                :aria-label="`Print ${batch.label || 'Walk-in'}`"
                @click="emit('print', batch, false)"
                >Print</v-btn
              >
            </template>
          </td>
        </tr>
        <tr v-if="open[batch.id]">
          <td :colspan="session.may('help') ? 7 : 6" class="nest">
            <label v-if="batch.size > 1 && session.may('help')" class="soft all">
              <input type="checkbox" :checked="isAll(batch.id)" @change="pickAll(batch.id)" />
              all that are shown
            </label>
            <table class="list">
              <tbody>
                <IssuedRow
                  v-for="one in open[batch.id]"
                  :key="one.id"
                  :issued="one"
                  :busy="busy"
                  :is-new="latest?.id === batch.id"
                  :is-picked="picked.has(one.id)"
                  :sends="sends"
                  :problem="problem"
                  @pick="emit('pick', one)"
                  @send="(to) => emit('send', one, to)"
                  @forget="emit('act', one, 'forget')"
                  @renew="emit('renew', one)"
                />
              </tbody>
            </table>
            <v-btn
              v-if="(open[batch.id]?.length ?? 0) < batch.size"
              size="small"
              class="mt-2"
              @click="more(batch.id)"
            >
              More of {{ batch.size.toLocaleString('en') }}
            </v-btn>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  position: relative;
  container-type: inline-size;
}
.pick {
  width: 30px;
}
.all {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 30px;
  font-size: 14px;
}
.turn {
  font-weight: 700;
}
.arrow {
  display: inline-block;
  width: 18px;
  color: rgb(var(--v-theme-soft));
}
.note-for-us {
  display: inline-block;
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
  vertical-align: bottom;
  font-size: 13px;
}
.acts {
  text-align: right;
  padding-right: 0 !important;
}
.nest {
  padding: 0 0 14px 26px !important;
  height: auto !important;
}
@container (max-width: 820px) {
  .issued,
  .takings {
    display: none;
  }
}
@container (max-width: 700px) {
  .roomy {
    display: none;
  }
}
/* On a phone each has two lines: for whom, with its acts; and its code, with its state. */
@container (max-width: 480px) {
  thead {
    display: none;
  }
  .batch {
    display: grid;
    grid-template: 'pick for acts' 'pick codes state' / 30px minmax(0, 1fr) auto;
    padding: 4px 0;
    border-bottom: 1px solid rgb(var(--v-theme-hair));
  }
  .batch td {
    border: 0;
    height: auto;
    padding: 2px 4px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .batch .pick {
    grid-area: pick;
  }
  .batch .for {
    grid-area: for;
  }
  .batch .acts {
    grid-area: acts;
  }
  .batch .codes {
    grid-area: codes;
  }
  .batch .state {
    grid-area: state;
    text-align: right;
  }
}
</style>
