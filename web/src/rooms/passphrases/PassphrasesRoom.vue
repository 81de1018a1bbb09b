<script setup lang="ts">
// The house plan of keys: who and what has a passphrase, on which devices; who tried one that does not hold.
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, got, type Holder } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import { useReload } from '../../use/useReload'
import HolderPanel from './HolderPanel.vue'
import HolderPlate from './HolderPlate.vue'
import IssueKeys from './IssueKeys.vue'
import WrongKeys from './WrongKeys.vue'

const PAGE = 60
const WAIT_MS = 200
const KINDS = [
  ['person', 'People'],
  ['room', 'Rooms'],
  ['thing', 'Things'],
] as const
const WHICH = [
  ['all', 'have one'],
  ['unused', 'never used'],
  ['ending', 'end within a week'],
  ['over', 'over'],
] as const
const route = useRoute()
const router = useRouter()
const live = useLive()
const session = useSession()
const { problem, read } = useAct()
const reading = useReading(() => got(api.GET('/api/passphrases', { params: { query: query.value } })), {
  newestAlone: true,
})
const { found: plan } = reading
const find = ref('')
const network = ref<number | null>(null)
type Which = 'all' | 'unused' | 'ending' | 'over'
const which = computed(() => (route.query.which as Which | undefined) ?? 'all')
const open = computed(() => (route.query.key ? Number(route.query.key) : null))
const shown = computed(
  () => plan.value?.networks.find((one) => one.id === network.value) ?? plan.value?.networks[0] ?? null,
)
/** Pages beyond the first, by kind. */
const more = ref<Record<string, Holder[]>>({})

const query = computed(() => {
  return { which: which.value, name: find.value.trim(), network: network.value ?? undefined }
})
async function load(): Promise<void> {
  const found = await reading.load()
  network.value ??= found?.networks[0]?.id ?? null
}
const reload = useReload(load)
let typed = 0
watch(query, () => {
  more.value = {}
  const mine = ++typed
  setTimeout(() => mine === typed && void load(), find.value ? WAIT_MS : 0)
})
watch(() => live.now?.line?.id, reload)
onMounted(reload)

const holders = (kind: 'person' | 'room' | 'thing') => [
  ...(plan.value?.holders[kind] ?? []),
  ...(more.value[kind] ?? []),
]
const total = (name: string) =>
  KINDS.reduce((sum, [kind]) => sum + (plan.value?.counts[kind]?.[name as 'all'] ?? 0), 0)
async function loadMore(kind: 'person' | 'room' | 'thing'): Promise<void> {
  const last = holders(kind).at(-1)
  if (!last || !shown.value) return
  const asked = { ...query.value, network: shown.value.id, kind, after: last.id, after_name: last.name }
  const found = await read(() => got(api.GET('/api/passphrases/of', { params: { query: asked } })))
  if (found) more.value[kind] = [...(more.value[kind] ?? []), ...found.holders]
}
const go = (to: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...to } })
useKeys({ Escape: () => void go({ key: undefined }) })
</script>

<template>
  <div class="room keys">
    <section>
      <div class="tools">
        <h1>Passphrases</h1>
        <v-select
          v-if="(plan?.networks.length ?? 0) > 1"
          v-model="network"
          class="net"
          label="On"
          :items="plan?.networks"
          item-title="name"
          item-value="id"
        />
        <v-text-field
          v-model="find"
          class="find"
          type="search"
          aria-label="Find whose it is"
          placeholder="A name, from its beginning"
        />
      </div>
      <ReadingState :of="reading" />
      <p v-if="plan && !shown" class="empty">
        No network gives each device a key of its own yet. In
        <router-link to="/networks">Networks</router-link>, at <em>is asked</em>, a network with an exact SSID
        can take private passphrases: each person, room or thing then has one, and each is limited and
        withdrawn by itself.
      </p>
      <template v-if="shown">
        <p class="soft asks">
          {{ [`${shown.ssid}.`, ...shown.asks].join(' ') }}
          <template v-if="!shown.asks.length">No access point has asked yet.</template>
        </p>
        <div class="states" role="group" aria-label="Which are shown">
          <button
            v-for="[name, words] in WHICH"
            :key="name"
            :class="{ on: which === name }"
            :aria-pressed="which === name"
            @click="go({ which: name === 'all' ? undefined : name })"
          >
            {{ total(name).toLocaleString('en') }} {{ words }}
          </button>
        </div>
        <ProblemNote :problem="problem" />
        <WrongKeys :wrong="plan?.wrong ?? []" />
        <section v-for="[kind, title] in KINDS" :key="kind" class="corridor" :aria-label="title">
          <h2>
            {{ title }} <span class="soft">{{ plan?.counts[kind]?.[which as 'all'] ?? 0 }}</span>
          </h2>
          <ul v-if="holders(kind).length">
            <li v-for="one in holders(kind)" :key="one.id">
              <HolderPlate :holder="one" :is-open="open === one.id" @open="go({ key: String(one.id) })" />
            </li>
          </ul>
          <p v-else class="soft none">None{{ find ? ' of that name' : '' }}.</p>
          <v-btn
            v-if="holders(kind).length >= PAGE && holders(kind).length % PAGE === 0 && !find"
            size="small"
            @click="loadMore(kind)"
            >More</v-btn
          >
        </section>
      </template>
    </section>
    <aside v-if="shown">
      <HolderPanel v-if="open" :id="open" :key="open" @close="go({ key: undefined })" @changed="load" />
      <IssueKeys v-else-if="session.may('issue') && plan" :plan="plan" :network="shown" @issued="load" />
    </aside>
  </div>
</template>

<style scoped>
.keys {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  gap: 30px;
}
.tools {
  display: flex;
  gap: 16px;
  align-items: center;
}
.tools h1 {
  margin: 0;
  flex: 1;
}
.find,
.net {
  flex: 0 1 260px;
}
.asks {
  font-size: 14px;
  margin: 8px 0 0;
}
.corridor {
  margin-top: 16px;
}
.corridor h2 span {
  font-weight: 400;
  margin-left: 6px;
}
ul {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(218px, 1fr));
  gap: 10px;
}
.none {
  margin: 2px 0;
  font-size: 14px;
}
@media (max-width: 1000px) {
  .keys {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
