<script setup lang="ts">
// The list of guests: filtered, sorted and paged by the server; acted on one by one, together, or all of a state.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { VTextField } from 'vuetify/components'

import { api, got, type Guest, type Guests, type State } from '../../api/client'
import ReadingState from '../../parts/ReadingState.vue'
import StateMark from '../../parts/StateMark.vue'
import { STATES } from '../../parts/words'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import { useReload } from '../../use/useReload'
import DossierPanel from './DossierPanel.vue'
import GuestActs from './GuestActs.vue'
import GuestTable, { type Column } from './GuestTable.vue'

const WAIT_MS = 200
const MOST_FIRST: Column[] = ['since', 'used', 'today', 'rate']
const MOST: [Column, string][] = [
  ['rate', 'now'],
  ['today', 'today'],
]
const find = ref('')
const findField = ref<VTextField | null>(null)
const sortBy = ref<Column>('since')
const isDown = ref(true)
const at = ref(0)
const chosen = ref(new Map<string, Guest>())
const session = useSession()
const live = useLive()
const route = useRoute()
const router = useRouter()

const csv = computed(() => {
  const asked = Object.entries(query.value).filter(([, value]) => value !== undefined)
  return `/api/guests.csv?${new URLSearchParams(asked.map(([name, value]) => [name, String(value)]))}`
})
/** After the page or the order has changed, answers to earlier requests are dropped. */
const reading = useReading(
  async (): Promise<Guests> => {
    const asked = { ...query.value, page: at.value }
    const found = await got(api.GET('/api/guests', { params: { query: asked } }))
    return { ...found, rows: merged(found.rows) }
  },
  { newestAlone: true },
)
const { found: page } = reading
const state = computed(() => (route.query.state as State | undefined) ?? '')
const network = computed(() => Number(route.query.network ?? 0))
const plan = computed(() => Number(route.query.plan ?? 0))
const open = computed(() => (route.query.guest as string | undefined) ?? null)
const rows = computed(() => page.value?.rows ?? [])
const idOf = (g: Guest) => `${g.mac}/${g.network}`
const counts = computed(() =>
  Object.keys(STATES).map(
    (name) => [name, page.value?.counts[name as Guest['state'] & keyof Guests['counts']]] as const,
  ),
)
const query = computed(() => {
  const some = {
    state: state.value || undefined,
    network: network.value || undefined,
    plan: plan.value || undefined,
  }
  return { sort: sortBy.value, down: isDown.value, find: find.value.trim() || undefined, ...some }
})

async function load(): Promise<void> {
  const now = await reading.load()
  for (const one of now?.rows ?? []) if (chosen.value.has(idOf(one))) chosen.value.set(idOf(one), one)
}
/** Rows that say what they said before stay the same ones, so that only those that changed are drawn anew. */
function merged(found: Guest[]): Guest[] {
  const before = new Map(rows.value.map((one) => [idOf(one), one]))
  return found.map((one) => {
    const known = before.get(idOf(one))
    return known && JSON.stringify(known) === JSON.stringify(one) ? known : one
  })
}
const reload = useReload(load)
let typed = 0
watch(query, () => {
  at.value = 0
  const mine = ++typed
  setTimeout(() => mine === typed && void load(), find.value ? WAIT_MS : 0)
})
watch(at, load)

function sort(column: Column): void {
  isDown.value = sortBy.value === column ? !isDown.value : MOST_FIRST.includes(column)
  sortBy.value = column
}
/** Again: back to who moved last. */
function most(column: Column): void {
  const isOff = sortBy.value === column && isDown.value
  sortBy.value = isOff ? 'since' : column
  isDown.value = true
}
function choose(one: Guest): void {
  if (!chosen.value.delete(idOf(one))) chosen.value.set(idOf(one), one)
}
const go = (to: Record<string, string | undefined>) =>
  router.replace({ query: { ...route.query, focus: undefined, ...to } })
function step(by: number): void {
  const now = rows.value.findIndex((g) => idOf(g) === open.value)
  const next = rows.value[Math.min(rows.value.length - 1, Math.max(0, now + by))]
  if (next) void go({ guest: idOf(next) })
}
function focusWanted(): void {
  if (route.query.focus === 'find') void nextTick(() => findField.value?.focus())
}
onMounted(() => {
  reload()
  focusWanted()
})
watch(() => route.fullPath, focusWanted)
watch(() => live.now?.line?.id, reload)
useKeys({
  j: () => step(1),
  k: () => step(-1),
  x: () => {
    const one = rows.value.find((g) => idOf(g) === open.value)
    if (one) choose(one)
  },
  '/': () => findField.value?.focus(),
  Escape: () => {
    find.value = ''
    findField.value?.blur()
    void go({ guest: undefined })
  },
})
</script>

<template>
  <div class="room" :class="{ split: open }">
    <section>
      <div class="tools">
        <h1>Guests</h1>
        <v-text-field
          ref="findField"
          v-model="find"
          class="find"
          type="search"
          aria-label="Find a guest"
          placeholder="Name, mail, room, code, MAC or address"
          title="Part of it is enough, but for a code: that is found by all of it"
        >
          <template #append-inner><kbd>/</kbd></template>
        </v-text-field>
      </div>
      <div class="states" role="group" aria-label="Which states are shown">
        <button
          :class="{ on: !state && !plan }"
          :aria-pressed="!state && !plan"
          @click="go({ state: undefined, network: undefined, plan: undefined })"
        >
          everybody here
        </button>
        <button
          v-for="[name, count] in counts"
          :key="name"
          :class="{ on: state === name }"
          :aria-pressed="state === name"
          @click="go({ state: state === name ? undefined : name })"
        >
          <StateMark :state="name" /> {{ count?.toLocaleString('en') }} {{ STATES[name] }}
        </button>
        <button v-if="network" class="on" title="Show all networks" @click="go({ network: undefined })">
          on {{ live.now?.streams.find((one) => one.id === network)?.name ?? 'one network' }} ×
        </button>
        <button v-if="plan" class="on" title="Show all plans" @click="go({ plan: undefined })">
          by {{ rows.find((one) => one.plan)?.plan ?? 'one plan' }} ×
        </button>
        <span class="most" role="group" aria-label="Who uses most">
          uses most
          <button
            v-for="[column, when] in MOST"
            :key="column"
            :class="{ on: sortBy === column && isDown }"
            :aria-pressed="sortBy === column && isDown"
            @click="most(column)"
          >
            {{ when }}
          </button>
        </span>
        <a class="csv" :href="csv" title="All that fit, in this order">As CSV</a>
      </div>
      <ReadingState :of="reading" />
      <GuestActs
        v-if="session.may('help')"
        :chosen="[...chosen.values()]"
        :state="state"
        :network="network"
        :total="page?.total ?? 0"
        :finds="!!find.trim() || !!plan"
        @changed="load"
        @clear="chosen.clear()"
      />
      <GuestTable
        v-if="rows.length"
        :rows="rows"
        :sort-by="sortBy"
        :is-down="isDown"
        :open="open"
        :chosen="chosen"
        :may-choose="session.may('help')"
        @sort="sort"
        @open="(one) => go({ guest: idOf(one) })"
        @choose="choose"
      />
      <div v-if="(page?.pages ?? 1) > 1" class="acts pages">
        <v-btn size="small" :disabled="at === 0" @click="at -= 1">Before</v-btn>
        <span>page {{ at + 1 }} of {{ page?.pages }}, {{ page?.total.toLocaleString('en') }} in all</span>
        <v-btn size="small" :disabled="at + 1 >= (page?.pages ?? 1)" @click="at += 1">Next</v-btn>
      </div>
      <p v-if="page && !rows.length && !find && !state && !plan" class="empty">
        Nobody is here yet. Whoever joins a guest network appears here at once, first as <em>at the door</em>.
      </p>
      <p v-else-if="page && !rows.length" class="empty">Nobody here matches. Esc shows everybody again.</p>
    </section>
    <DossierPanel
      v-if="open"
      :key="open"
      :mac="open.split('/')[0] ?? ''"
      :network="Number(open.split('/')[1])"
      @close="go({ guest: undefined })"
      @changed="load"
    />
  </div>
</template>

<style scoped>
.split {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 24px;
}
.tools {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
}
.tools h1 {
  margin: 0;
}
.find {
  flex: 0 1 400px;
}
.most {
  margin-left: auto;
  display: inline-flex;
  gap: 4px 10px;
  align-items: baseline;
  color: rgb(var(--v-theme-soft));
}
.pages {
  margin-top: 12px;
}
@media (max-width: 900px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
