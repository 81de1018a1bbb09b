<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { VTextField } from 'vuetify/components'

import { call, type Guest } from '../../api/client'
import DossierPanel from './DossierPanel.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import StateMark from '../../parts/StateMark.vue'
import { byWords, STATES, stateWords } from '../../parts/words'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useReload } from '../../use/useReload'
import { amount, useTimes } from '../../use/useTimes'

type Column = 'who' | 'state' | 'how' | 'since' | 'until' | 'left' | 'used' | 'where'
const COLUMNS: [Column, string][] = [
  ['state', 'State'],
  ['who', 'Guest'],
  ['how', 'By'],
  ['since', 'Since'],
  ['until', 'Until'],
  ['left', 'Left'],
  ['used', 'Used'],
  ['where', 'Where'],
]

const guests = ref<Guest[]>([])
const isLoaded = ref(false)
const find = ref('')
const findField = ref<VTextField | null>(null)
const sortBy = ref<Column>('since')
const isDown = ref(true)
const { problem, read } = useAct()
const times = useTimes()
const live = useLive()
const route = useRoute()
const router = useRouter()

const state = computed(() => (route.query.state as string | undefined) ?? '')
const network = computed(() => Number(route.query.network ?? 0))
const picked = computed(() => (route.query.guest as string | undefined) ?? null)

const KEYS: Record<Column, (g: Guest) => string | number> = {
  state: (g) => Object.keys(STATES).indexOf(g.state),
  who: (g) => g.name.toLowerCase() || `~${g.mac}`,
  how: (g) => byWords(g),
  since: (g) => g.since,
  until: (g) => g.until ?? 0,
  left: (g) => g.octets_left ?? 0,
  used: (g) => g.octets_used,
  where: (g) => g.where,
}
const plain = (text: string) => text.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
const shown = computed(() => {
  const wanted = plain(find.value)
  const key = KEYS[sortBy.value]
  return guests.value
    .filter((g) => !state.value || g.state === state.value)
    .filter((g) => !network.value || g.network === network.value)
    .filter(
      (g) =>
        !wanted ||
        [g.name, g.label, g.mac, g.issued?.code, g.where, g.address].some(
          (t) => t && plain(t).includes(wanted),
        ),
    )
    .sort((a, b) => {
      const [x, y] = [key(a), key(b)]
      return (x < y ? -1 : x > y ? 1 : 0) * (isDown.value ? -1 : 1)
    })
})
const counts = computed(() =>
  Object.keys(STATES)
    .filter((s) => s !== 'left')
    .map(
      (s) =>
        [
          s,
          guests.value.filter((g) => g.state === s && (!network.value || g.network === network.value)).length,
        ] as const,
    ),
)
const idOf = (g: Guest) => `${g.mac}/${g.network}`

async function load(): Promise<void> {
  const found = await read(() => call<Guest[]>('GET', '/api/guests'))
  if (found) guests.value = found
  isLoaded.value = true
}

// A long list is read again less often: each line that is heard would else read a thousand rows.
const reload = useReload(load)

function sort(column: Column): void {
  isDown.value = sortBy.value === column ? !isDown.value : ['since', 'used'].includes(column)
  sortBy.value = column
}

const go = (query: Record<string, string | undefined>) =>
  router.replace({ query: { ...route.query, focus: undefined, ...query } })
function step(by: number): void {
  const at = shown.value.findIndex((g) => idOf(g) === picked.value)
  const next = shown.value[Math.min(shown.value.length - 1, Math.max(0, at + by))]
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
  '/': () => findField.value?.focus(),
  Escape: () => {
    find.value = ''
    findField.value?.blur()
    void go({ guest: undefined })
  },
})
</script>

<template>
  <div class="room" :class="{ split: picked }">
    <section>
      <div class="tools">
        <h1>Guests</h1>
        <v-text-field
          ref="findField"
          v-model="find"
          class="find"
          type="search"
          aria-label="Find a guest"
          placeholder="Name, label, code, MAC or address"
        >
          <template #append-inner><kbd>/</kbd></template>
        </v-text-field>
      </div>
      <div class="states" role="group" aria-label="Which states are shown">
        <button
          :class="{ on: !state }"
          :aria-pressed="!state"
          @click="go({ state: undefined, network: undefined })"
        >
          everybody
        </button>
        <button
          v-for="[name, count] in counts"
          :key="name"
          :class="{ on: state === name }"
          :aria-pressed="state === name"
          @click="go({ state: state === name ? undefined : name })"
        >
          <StateMark :state="name" /> {{ count }} {{ STATES[name] }}
        </button>
      </div>
      <ProblemNote :problem="problem" />
      <div class="scroll">
        <table v-if="shown.length" class="list">
          <thead>
            <tr>
              <th
                v-for="[column, word] in COLUMNS"
                :key="column"
                :class="column"
                :aria-sort="sortBy === column ? (isDown ? 'descending' : 'ascending') : 'none'"
              >
                <button @click="sort(column)">
                  {{ word
                  }}<span aria-hidden="true">{{ sortBy === column ? (isDown ? ' ↓' : ' ↑') : '' }}</span>
                </button>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr
              v-for="guest in shown"
              :key="idOf(guest)"
              :class="{ picked: idOf(guest) === picked }"
              @click="go({ guest: idOf(guest) })"
            >
              <td>
                <StateMark :state="guest.state" :going="guest.going" /> {{ stateWords(guest) }}
                <span
                  v-if="(guest.typing_barred_until ?? 0) > times.now.value"
                  class="unsure"
                  title="Too many wrong codes"
                  >no typing</span
                >
                <span
                  v-if="guest.not_confirmed"
                  class="unsure"
                  :title="`${guest.where} ${guest.not_confirmed}`"
                  >not confirmed</span
                >
              </td>
              <td>
                <router-link class="mac" :to="{ query: { ...route.query, guest: idOf(guest) } }">
                  <template v-if="guest.name">
                    <b>{{ guest.name }}</b> <span class="mono soft">{{ guest.short }}</span>
                  </template>
                  <span v-else class="mono">{{ guest.mac }}</span>
                </router-link>
              </td>
              <td class="how">{{ byWords(guest) }}</td>
              <td :title="times.exact(guest.since)">{{ times.clock(guest.since) }}</td>
              <td class="until">
                <span v-if="guest.until" :title="times.exact(guest.until)">{{
                  times.clock(guest.until)
                }}</span>
              </td>
              <td class="left">
                {{ guest.octets_left !== null ? amount(guest.octets_left) : '' }}
              </td>
              <td class="used">{{ guest.octets_used ? amount(guest.octets_used) : '' }}</td>
              <td class="where">{{ guest.where }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="isLoaded && !guests.length" class="empty">
        Nobody is here yet. Whoever joins a guest network appears here at once, first as <em>at the door</em>.
      </p>
      <p v-else-if="isLoaded && !shown.length" class="empty">
        Nobody here matches. Esc shows everybody again.
      </p>
    </section>
    <DossierPanel
      v-if="picked"
      :mac="picked.split('/')[0] ?? ''"
      :network="Number(picked.split('/')[1])"
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
  flex: 0 1 320px;
}
.states {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin: 12px 0 6px;
  font-size: 14.5px;
}
.states button {
  padding: 3px 0;
  border-bottom: 2px solid transparent;
}
.states button.on {
  border-bottom-color: rgb(var(--v-theme-primary));
  font-weight: 700;
}
.scroll {
  overflow-x: auto;
  position: relative;
}
th:first-child,
td:first-child {
  padding-left: 8px !important;
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover {
  background: rgb(var(--v-theme-tint));
}
tbody tr.picked {
  background: rgb(var(--v-theme-tint));
  box-shadow: inset 3px 0 rgb(var(--v-theme-primary));
}
.mac {
  text-decoration: none;
  font-size: 13.5px;
  color: inherit;
}
.mac:hover {
  text-decoration: underline;
}
.left,
.used {
  text-align: right;
}
td.left,
td.used {
  padding-right: 16px;
}
th.left,
th.used {
  padding-right: 16px;
}
.unsure {
  border-bottom: 2px dotted rgb(var(--v-theme-door));
  margin-left: 6px;
  font-size: 13px;
}
.split .where,
.split .left,
.split .how {
  display: none;
}
@media (max-width: 900px) {
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
  .where,
  .left {
    display: none;
  }
}
@media (max-width: 700px) {
  .how,
  .left,
  .used,
  .where {
    display: none;
  }
}
</style>
