<script setup lang="ts">
// One holder: their devices, their passphrase when somebody asks for it, and what can be done about both. It is made
// anew for each (`key`), so that nothing is ever done to another one than is shown.
import { mdiClose } from '@mdi/js'
import { computed, ref, watch } from 'vue'

import { api, got, type KeyDevice, type Revealed } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import { useTimes } from '../../use/useTimes'
import { useUndo } from '../../use/useUndo'
import TheKey from './TheKey.vue'

const OVERLAPS = [
  { value: 0, title: 'at once' },
  { value: 60, title: 'in an hour' },
  { value: 1440, title: 'in a day' },
  { value: 10_080, title: 'in a week' },
]
const MOST_BEFORE = 5
const TURNS = {
  withdraw: ['Withdrawn: its devices go out now, and stay out.', 'restore'],
  pause: ['Paused: its devices go out now.', 'resume'],
  resume: ['It goes on.', 'pause'],
  restore: ['It lets its devices in again.', 'withdraw'],
} as const
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const session = useSession()
const live = useLive()
const times = useTimes()
const { isBusy, problem, act } = useAct()
const { last, did, undo } = useUndo()
const reading = useReading(() =>
  got(api.GET('/api/passphrases/{holder}', { params: { path: { holder: props.id } } })),
)
const { found: full, load } = reading
const shown = ref<Revealed | null>(null)
const overlap = ref(1440)
const isRenewing = ref(false)
const holder = computed(() => full.value?.holder ?? null)
const isOver = computed(() => !['fresh', 'running', 'paused'].includes(holder.value?.state ?? ''))
/** Of many the newest are shown. */
const unshown = computed(
  () => (holder.value?.devices ?? 0) - (full.value?.devices.filter((one) => !one.removed_at).length ?? 0),
)
const KIND = { person: 'Person', room: 'Room', thing: 'Thing' }

void load()
watch(() => live.now?.line?.id, load)

async function changed(): Promise<void> {
  await load()
  emit('changed')
}
async function reveal(): Promise<void> {
  const found = await act(() =>
    got(api.POST('/api/passphrases/{holder}/reveal', { params: { path: { holder: props.id } } })),
  )
  if (found) shown.value = found
}
async function relink(): Promise<void> {
  const made = await act(() =>
    got(api.POST('/api/passphrases/{holder}/link', { params: { path: { holder: props.id } } })),
  )
  if (!made || !shown.value) return
  shown.value = { ...shown.value, page: made.page }
  did('Their page has another address; those that were given out lead nowhere any more.', null)
}
async function renew(): Promise<void> {
  const name = holder.value?.name
  const made = await act(() =>
    got(
      api.POST('/api/passphrases/{holder}/renew', {
        params: { path: { holder: props.id } },
        body: { overlap_minutes: overlap.value },
      }),
    ),
  )
  if (!made) return
  isRenewing.value = false
  shown.value = made
  const ends = OVERLAPS.find((one) => one.value === overlap.value)?.title
  did(`${name} has a new passphrase; the one before ends ${ends}.`, async () => {
    const back = { key: made.key, before: made.before }
    const done = await act(() =>
      got(
        api.POST('/api/passphrases/{holder}/renew/undo', {
          params: { path: { holder: props.id } },
          body: back,
        }),
      ),
    )
    if (done) shown.value = null
    await changed()
    return done !== undefined
  })
  await changed()
}
async function turnIt(what: keyof typeof TURNS): Promise<boolean> {
  const wish = { what, issued: [props.id] }
  const done = await act(() => got(api.POST('/api/issued/acts', { body: wish })))
  await changed()
  return !!done?.done.length
}
async function turn(what: keyof typeof TURNS): Promise<void> {
  const [says, back] = TURNS[what]
  if (await turnIt(what)) did(says, () => turnIt(back))
}
async function turnDevice(one: KeyDevice, what: 'take-off' | 'take-on'): Promise<boolean> {
  const params = { path: { holder: props.id, mac: one.mac } }
  const done = await act(() => got(api.POST(`/api/passphrases/{holder}/devices/{mac}/${what}`, { params })))
  await changed()
  return done !== undefined
}
async function takeOff(one: KeyDevice): Promise<void> {
  if (!(await turnDevice(one, 'take-off'))) return
  did(`${one.name} was taken off, and goes out now.`, () => turnDevice(one, 'take-on'))
}
function deviceWords(one: KeyDevice): string {
  if (one.removed_at) return `taken off ${times.ago(one.removed_at)}`
  const where = one.is_going ? 'on its way out' : one.is_in ? 'inside' : 'not here'
  const key = one.has_old_key ? ', with the passphrase before' : ''
  return `${where}${key}, since ${times.clock(one.bound_at)}`
}
useKeys({ u: () => void undo() })
</script>

<template>
  <ReadingState :of="reading" />
  <div v-if="holder" class="panel" :aria-label="`The passphrase of ${holder.name}`" role="group">
    <header>
      <h1>{{ holder.name }}</h1>
      <v-btn :icon="mdiClose" size="small" variant="text" aria-label="Close" @click="emit('close')" />
    </header>
    <p class="state">
      <span class="soft">{{ KIND[holder.kind] }}, {{ holder.plan }}.</span> {{ holder.sentence }}
      <template v-if="holder.group">
        Its devices see each other, and nobody else's (VLAN {{ holder.group }}).</template
      >
      <template v-if="holder.role"> It places as {{ holder.role }}, whatever the rules say.</template>
    </p>
    <p v-if="holder.note" class="soft state">{{ holder.note }}</p>
    <p v-if="last" class="did" role="status">
      {{ last.says }} <v-btn v-if="last.back" size="x-small" @click="undo">Undo<kbd>u</kbd></v-btn>
    </p>
    <ProblemNote :problem="problem" />
    <TheKey v-if="shown" :shown="shown">
      <v-btn
        size="x-small"
        variant="outlined"
        title="The one before then leads nowhere: for a mail that went to somebody else"
        :disabled="isBusy"
        @click="relink"
        >Another link</v-btn
      >
    </TheKey>
    <div v-if="session.may('help') && !isOver" class="acts">
      <v-btn v-if="holder.may_reveal && !shown" size="small" :disabled="isBusy" @click="reveal">Reveal</v-btn>
      <v-btn
        v-if="holder.may_reveal"
        size="small"
        :href="`/api/issued/${holder.id}/slip.pdf`"
        target="_blank"
        rel="noopener"
        >Print</v-btn
      >
      <v-btn size="small" :aria-expanded="isRenewing" @click="isRenewing = !isRenewing">New passphrase</v-btn>
      <v-btn v-if="holder.state === 'paused'" size="small" :disabled="isBusy" @click="turn('resume')"
        >Resume</v-btn
      >
      <v-btn v-else size="small" :disabled="isBusy" @click="turn('pause')">Pause</v-btn>
      <v-btn size="small" :disabled="isBusy" @click="turn('withdraw')">Withdraw</v-btn>
    </div>
    <div v-else-if="session.may('help') && holder.state === 'withdrawn'" class="acts">
      <v-btn size="small" :disabled="isBusy" @click="turn('restore')">Restore</v-btn>
    </div>
    <p v-if="session.may('help') && holder.may_reveal && !shown && !isOver" class="soft small">
      Reveal and Print show the passphrase; who did that stands in the activity record.
    </p>
    <form v-if="isRenewing" class="renew" @submit.prevent="renew">
      <v-select v-model="overlap" label="The one before ends" :items="OVERLAPS" />
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">Make it</v-btn>
      <p class="soft small">
        {{
          overlap
            ? 'Until then both hold, so that each device can be changed in peace; who has the old one then goes out.'
            : 'Whoever has the one before goes out now, and needs the new one.'
        }}
      </p>
    </form>
    <section>
      <h2>Devices</h2>
      <p v-if="!full?.devices.length" class="soft small">
        None has joined yet. The first that joins with this passphrase is bound to it.
      </p>
      <ul>
        <li v-for="one in full?.devices" :key="one.mac" :class="{ off: one.removed_at }">
          <div>
            <router-link
              class="mono"
              :to="{ path: '/guests', query: { guest: `${one.mac}/${holder.network}` } }"
              >{{ one.mac }}</router-link
            >
            <span class="soft">{{ ` ${deviceWords(one)}` }}</span>
            <span v-if="one.is_private" class="soft small"
              ><br />a private address: when the device forgets the Wi-Fi it counts as another one</span
            >
          </div>
          <template v-if="session.may('help')">
            <v-btn v-if="one.removed_at" size="x-small" :disabled="isBusy" @click="turnDevice(one, 'take-on')"
              >Let join again</v-btn
            >
            <v-btn v-else size="x-small" :disabled="isBusy" @click="takeOff(one)">Take off</v-btn>
          </template>
        </li>
      </ul>
      <p v-if="unshown > 0" class="soft small">
        And {{ unshown.toLocaleString('en') }} that joined before those.
      </p>
      <p v-if="holder.is_shared && !isOver" class="note">
        It is on as many devices as it is for. If some of them are not known here, it went round: make a new
        passphrase, or take those off.
      </p>
    </section>
    <section v-if="full && full.keys.length > 1">
      <h2>Passphrases before</h2>
      <p v-for="one in full.keys.slice(1, MOST_BEFORE + 1)" :key="one.key" class="soft small">
        of {{ times.clock(one.made_at) }},
        {{
          one.ends_at && one.ends_at > times.now.value
            ? `holds until ${times.clock(one.ends_at)}`
            : one.ends_at
              ? `does not hold since ${times.clock(one.ends_at)}`
              : 'holds'
        }}
      </p>
    </section>
  </div>
</template>

<style scoped>
.panel {
  border-left: 1px solid rgb(var(--v-theme-hair));
  padding-left: 22px;
  position: sticky;
  top: calc(var(--top) + 20px);
}
header {
  display: flex;
  justify-content: space-between;
}
h1 {
  overflow-wrap: anywhere;
}
.state {
  margin: 0 0 10px;
  font-size: 14.5px;
}
.acts {
  gap: 8px;
}
.small {
  font-size: 13.5px;
  margin: 6px 0;
}
.did {
  border-left: 4px solid rgb(var(--v-theme-inside));
  padding: 4px 12px;
  font-size: 14.5px;
}
.renew {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 10px;
  align-items: center;
  margin-top: 14px;
}
.renew p {
  grid-column: 1 / -1;
  margin: 0;
}
section {
  margin-top: 16px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 14px;
}
li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  align-items: center;
  padding: 6px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
li.off .mono {
  text-decoration: line-through;
}
</style>
