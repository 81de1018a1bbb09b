<script setup lang="ts">
// One guest: state and what can be done, the voucher, the stays, and everything heard and decided. It is made anew for
// each (`key`), so that nothing is ever done to another guest than is shown.
import { mdiClose } from '@mdi/js'
import { computed, watch } from 'vue'

import { api, got } from '../../api/client'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'
import { amount, rate, useTimes } from '../../use/useTimes'
import PlacesPart from './PlacesPart.vue'
import LogLines from '../../parts/LogLines.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import StateMark from '../../parts/StateMark.vue'
import { byWords, issuedWords, STATES, stateWords, wayWords } from '../../parts/words'

const props = defineProps<{ mac: string; network: number }>()
const emit = defineEmits<{ close: []; changed: [] }>()
const { isBusy, problem, act } = useAct()
const times = useTimes()
const session = useSession()
const live = useLive()
const path = { mac: props.mac, network: props.network }
const reading = useReading(() => got(api.GET('/api/guests/{mac}/{network}', { params: { path } })))
const { found: dossier, load } = reading
const guest = computed(() => dossier.value?.guest ?? null)
const issued = computed(() => guest.value?.issued ?? null)
/** What this device alone uses, beside what counts for the code. */
const useWords = computed(() => {
  const one = guest.value
  if (!one) return ''
  const today = one.octets_today ? ` · ${amount(one.octets_today)} today` : ''
  return one.state === 'inside' && one.bits_per_s ? `${today} · now ${rate(one.bits_per_s)}` : today
})
const GIFTS = [
  [1800, '30 min'],
  [3600, '1 h'],
  [7200, '2 h'],
  [86400, '1 day'],
] as const

const ROOMS: Record<string, string> = {
  '/desk': 'Desk',
  '/networks': 'Networks',
  '/rules': 'Rules and plans',
  '/passphrases': 'Passphrases',
}
const WAYS: Record<string, string> = {
  voucher: 'Voucher',
  guest_pass: 'Guest pass',
  account: 'Account',
  self_registration: 'Self-registration',
  sponsor: 'Code by a host',
  passphrase: 'Passphrase',
}

const isTypingStopped = computed(() => (guest.value?.typing_barred_until ?? 0) > times.now.value)
const isBarred = computed(() => guest.value?.state === 'barred' || guest.value?.going === 'barred')
const canEnd = computed(
  () => (guest.value?.state === 'inside' && !guest.value.going) || guest.value?.going === 'inside',
)

/** What comes of *End stay*: whether it would be back by itself, and what keeps it out. */
const endWords = computed(() => {
  const way = canEnd.value ? guest.value?.way_in : null
  if (!way) return ''
  if (way === 'always')
    return 'End stay: it is let in always, and is back as soon as it asks. Bar keeps it out; the list is in Networks.'
  if (way === 'click_through')
    return 'End stay: out at once, and forgotten. It needs no code, and is back by one press; Bar keeps it out.'
  if (way === 'passphrase')
    return 'End stay: out now, and back as soon as it joins again, since it has the key. Taking it off keeps it out.'
  return 'End stay: out at once, and forgotten, so that the page asks again. Whoever knows the code is back by it.'
})

async function press(what: 'end-stay' | 'send-again' | 'let-try-again' | 'bar'): Promise<void> {
  const params = { path }
  const changed = await act(() => got(api.POST(`/api/guests/{mac}/{network}/${what}`, { params })))
  if (!changed) return
  await load()
  emit('changed')
}

async function give(seconds: number): Promise<void> {
  if (
    await act(() =>
      got(
        api.POST('/api/guests/{mac}/{network}/give-time', {
          params: { path },
          body: { seconds },
        }),
      ),
    )
  )
    await load()
}

async function withdraw(): Promise<void> {
  const id = issued.value?.id
  if (
    id &&
    (await act(() => got(api.POST('/api/issued/{issued}/withdraw', { params: { path: { issued: id } } }))))
  )
    await load()
}

void load()
watch(() => live.now?.line?.id, load)
</script>

<template>
  <aside v-if="!guest" class="dossier" aria-label="Dossier" :aria-busy="!reading.problem.value">
    <ReadingState :of="reading" />
    <v-btn v-if="reading.problem.value" variant="text" @click="emit('close')">Close</v-btn>
  </aside>
  <aside v-else class="dossier" :aria-label="`Dossier of ${guest.mac}`">
    <header>
      <h1>
        <StateMark :state="guest.state" :going="guest.going" />
        <template v-if="guest.name">{{ guest.name }}</template>
        <span v-else class="mono">{{ guest.mac }}</span>
      </h1>
      <v-btn
        :icon="mdiClose"
        size="small"
        variant="text"
        aria-label="Close the dossier"
        @click="emit('close')"
      />
    </header>
    <p class="state">
      <strong>{{ stateWords(guest) }}</strong> since
      <span :title="times.exact(guest.since)">{{ times.clock(guest.since) }}</span>
      <template v-if="guest.reason"> · {{ guest.reason }}</template>
      · {{ guest.network_name }}, {{ guest.where
      }}<template v-if="guest.address">
        · <span class="mono">{{ guest.address }}</span></template
      >
      <template v-if="guest.name">
        · <span class="mono">{{ guest.mac }}</span></template
      >
      · {{ guest.private ? 'private MAC address' : 'built-in MAC address' }}
    </p>
    <p v-if="guest.private" class="soft private">
      A private address may change when the guest forgets the Wi-Fi: it is then another device to us, is asked
      again, and counts as one more.
    </p>
    <p v-if="guest.is_remembered" class="unsure">
      It is not here, and would be let back in without the page.
      <v-btn size="x-small" :disabled="isBusy" @click="press('end-stay')">Forget</v-btn>
    </p>
    <p v-if="guest.not_confirmed" class="unsure">
      Not confirmed by {{ guest.where }} ({{ guest.not_confirmed }}). It is tried again by itself.
      <v-btn size="x-small" :disabled="isBusy" @click="press('send-again')">Send again</v-btn>
    </p>
    <p v-if="isTypingStopped && guest.typing_barred_until" class="unsure">
      Too many wrong codes were typed: no more typing until
      {{ times.clock(Math.ceil(guest.typing_barred_until / 60) * 60) }}.
    </p>
    <div v-if="session.may('help')" class="acts">
      <v-btn size="small" :disabled="isBusy || !canEnd" @click="press('end-stay')">End stay</v-btn>
      <v-menu>
        <template #activator="{ props: menu }">
          <v-btn v-bind="menu" size="small" :disabled="isBusy || !guest.plan || issued?.state === 'withdrawn'"
            >Give time</v-btn
          >
        </template>
        <v-list density="compact">
          <v-list-item v-for="[seconds, word] in GIFTS" :key="seconds" :title="word" @click="give(seconds)" />
        </v-list>
      </v-menu>
      <v-btn
        v-if="isBarred || isTypingStopped"
        size="small"
        :disabled="isBusy"
        @click="press('let-try-again')"
      >
        Let try again
      </v-btn>
      <v-btn v-if="!isBarred" size="small" :disabled="isBusy" @click="press('bar')"> Bar </v-btn>
      <v-btn v-if="issued" size="small" :disabled="isBusy || issued.state === 'withdrawn'" @click="withdraw">
        Withdraw {{ ['self_registration', 'sponsor'].includes(issued.way) ? 'code' : wayWords(issued.way) }}
      </v-btn>
    </div>
    <p v-if="session.may('help') && endWords" class="soft">{{ endWords }}</p>
    <ReadingState :of="reading" />
    <ProblemNote :problem="problem" />
    <section v-if="dossier?.why" class="why-not">
      <h2>Why can they not get on?</h2>
      <p>{{ dossier.why.cause }}</p>
      <p class="soft">
        <template v-for="(part, n) in dossier.why.mend.split('*')" :key="n"
          ><em v-if="n % 2">{{ part }}</em
          ><template v-else>{{ part }}</template></template
        >
        <router-link v-if="dossier.why.link" :to="dossier.why.link">{{
          ROOMS[dossier.why.link]
        }}</router-link>
      </p>
    </section>
    <section v-if="issued">
      <h2>{{ WAYS[issued.way] ?? wayWords(issued.way) }}</h2>
      <p>
        <router-link v-if="issued.way === 'passphrase'" class="code" :to="`/passphrases?key=${issued.id}`">{{
          issued.code
        }}</router-link>
        <span v-else class="mono code">{{ issued.code }}</span>
        {{ ` ` }}{{ issued.plan }}, {{ issuedWords(issued)
        }}<template v-if="guest.label && guest.label !== guest.name">, of {{ guest.label }}</template>
      </p>
      <p class="soft">
        <template v-if="issued.until">
          until <span :title="times.exact(issued.until)">{{ times.clock(issued.until) }}</span>
          <template v-if="issued.seconds_left"> ({{ times.duration(issued.seconds_left) }} left)</template>
          ·
        </template>
        {{ amount(issued.octets_used) }} used<template v-if="issued.octets_left !== null"
          >, {{ amount(issued.octets_left) }} left</template
        >{{ useWords }}
      </p>
    </section>
    <section v-else-if="guest.plan">
      <h2>In by {{ byWords(guest) }}</h2>
      <p class="soft">
        <template v-if="guest.until">
          until <span :title="times.exact(guest.until)">{{ times.clock(guest.until) }}</span> ·
        </template>
        {{ amount(guest.octets_used) }} used<template v-if="guest.octets_left !== null"
          >, {{ amount(guest.octets_left) }} left</template
        >{{ useWords }}
      </p>
    </section>
    <section v-if="dossier?.hosts.length">
      <h2>Host</h2>
      <p v-for="text in dossier.hosts" :key="text" class="wrote">{{ text }}</p>
    </section>
    <section v-if="dossier?.consents.length">
      <h2>Agreed</h2>
      <p v-for="text in dossier.consents" :key="text" class="wrote">{{ text }}</p>
    </section>
    <section v-if="dossier?.wrote.length">
      <h2>As they wrote themselves{{ guest.way_in === 'sponsor' ? '' : ', confirmed by nobody' }}</h2>
      <p v-for="one in dossier.wrote" :key="one.field" class="wrote">
        <span class="soft">{{ one.field }}</span> {{ one.text }}
      </p>
    </section>
    <section v-if="dossier?.others.length">
      <h2>Their other devices</h2>
      <ul class="stays">
        <li v-for="one in dossier.others" :key="`${one.mac} ${one.network}`">
          <StateMark :state="one.state" />
          <router-link
            class="mono"
            :to="{ query: { ...$route.query, guest: `${one.mac}/${one.network}` } }"
            >{{ one.mac }}</router-link>, {{ STATES[one.state] }} since
          <span :title="times.exact(one.since)">{{ times.clock(one.since) }}</span>
        </li>
      </ul>
    </section>
    <PlacesPart v-if="dossier?.places.length" :places="dossier.places" />
    <section v-if="dossier?.stays.length">
      <h2>Stays</h2>
      <ul class="stays">
        <li v-for="stay in dossier.stays.slice(0, 6)" :key="stay.started">
          <span :title="times.exact(stay.started)">{{ times.clock(stay.started) }}</span> to
          <span>{{ stay.ended ? times.clock(stay.ended) : 'now' }}</span> at {{ stay.where }}:
          {{ amount(stay.octets_out) }} down, {{ amount(stay.octets_in) }} up<template v-if="stay.end"
            >; {{ stay.end }}</template
          >
        </li>
      </ul>
    </section>
    <section v-if="dossier?.addresses.length">
      <h2>Addresses</h2>
      <ul class="stays">
        <li v-for="a in dossier.addresses" :key="a.text">
          <span class="mono">{{ a.text }}</span>, seen by
          <template v-for="(s, n) in a.seen" :key="s.by"
            >{{ n ? ', ' : '' }}{{ s.by }}
            <span :title="times.exact(s.at)">{{ times.ago(s.at) }}</span></template
          >
        </li>
      </ul>
    </section>
    <section>
      <h2>Their story, newest first</h2>
      <LogLines :lines="dossier?.log ?? []" />
    </section>
  </aside>
</template>

<style scoped>
.private {
  font-size: 14px;
  margin: 0 0 10px;
}
.dossier {
  border-left: 1px solid rgb(var(--v-theme-hair));
  padding-left: 24px;
  min-width: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
h1 {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 4px 0 6px;
}
.state {
  margin: 0 0 12px;
  font-size: 14.5px;
}
.unsure {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  font-size: 14.5px;
}
.acts {
  gap: 8px;
  margin-bottom: 8px;
}
section {
  margin-top: 16px;
}
section p {
  margin: 0;
  font-size: 14.5px;
}
.code {
  font-weight: 700;
  margin-right: 8px;
}
.wrote {
  margin: 2px 0;
  overflow-wrap: anywhere;
}
.stays {
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 14px;
}
.why-not {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding-left: 12px;
}
.stays li {
  padding: 4px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
</style>
