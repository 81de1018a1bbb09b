<script setup lang="ts">
// The stage *is asked*: what a network offers to let in, in the order of its page; and the house rules.
import { computed, ref } from 'vue'

import { api, got, type Network, type Networks, type Way } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import { useAct } from '../../../use/useAct'
import WayMore from './WayMore.vue'
import PasscodeFields from './PasscodeFields.vue'
import PassphraseFields from './PassphraseFields.vue'
import RegistrationFields from './RegistrationFields.vue'
import SponsorFields from './SponsorFields.vue'

const props = defineProps<{ network: Network; setup: Networks }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const KINDS = {
  voucher: {
    title: 'Voucher',
    says: 'A code that the desk hands out; each voucher brings its own plan.',
  },
  guest_pass: {
    title: 'Guest pass',
    says: 'For a named person, until a moment, on as many devices as it says; its code was proposed or chosen.',
  },
  account: {
    title: 'Account',
    says: 'A name and a password for one person, who may change it; until a moment, or until it is ended.',
  },
  passcode: {
    title: 'Passcode',
    says: 'One code for everybody, which changes as you set; each device that gets in by it has its own allowance.',
  },
  self_registration: {
    title: 'Self-registration',
    says: 'Guests fill in a form of yours, and get a code of their own.',
  },
  passphrase: {
    title: 'Private passphrase',
    says: 'Each person, room or thing has a key of its own to this Wi-Fi. It stands alone: no page is shown.',
  },
  sponsor: {
    title: 'Ask a host',
    says: 'Guests name somebody of the house, who says yes or no from a phone; the list of hosts is in Settings.',
  },
  always: {
    title: 'Always',
    says: 'Devices, ports and access devices of the house: never asked, not on the page. The list is below.',
  },
  click_through: {
    title: 'Click-through',
    says: 'Whoever agrees to the house rules is in. Each device has an allowance of its own.',
  },
} as const
type Kind = keyof typeof KINDS

const PASSCODE = {
  way: 'passcode',
  is_off: false,
  schedule: 'daily',
  at_minute: 300,
  weekday: 0,
  every_hours: 6,
  overlap_minutes: 60,
  signs: 'digits',
  length: 6,
} as const

const ASKED = [{ key: 'name', is_required: true, labels: {}, helps: {} }]
const SPONSOR = {
  way: 'sponsor',
  is_off: false,
  naming: 'list',
  wait_minutes: 30,
  remind_minutes: 10,
  stand_in: null,
  asks_consent: false,
} as const

const ways = ref<Way[]>((props.network.ways ?? []).map((way) => ({ ...way })))
const en = ref(props.setup.house_rules.texts['en'] ?? '')
const de = ref(props.setup.house_rules.texts['de'] ?? '')
const missing = computed(() =>
  (Object.keys(KINDS) as Kind[]).filter((kind) => !ways.value.some((way) => way.way === kind)),
)
const plans = computed(() => props.setup.plans.map((plan) => ({ title: plan.name, value: plan.id })))
const asksRules = computed(() => ways.value.some((way) => way.way === 'click_through'))
const rulesChanged = computed(() => {
  const texts = props.setup.house_rules.texts
  return en.value.trim() !== (texts['en'] ?? '') || de.value.trim() !== (texts['de'] ?? '')
})

function add(kind: Kind): void {
  const plan = props.setup.plans[0]?.id ?? 0
  if (kind === 'click_through')
    ways.value.push({
      way: kind,
      plan,
      is_off: false,
      again_after_hours: 24,
      asks_when_changed: true,
      asks_name: false,
      asks_mail: false,
      shows_whole: false,
    })
  else if (kind === 'always') ways.value.push({ way: kind, plan, is_off: false })
  else if (kind === 'self_registration')
    ways.value.push({
      way: kind,
      plan,
      is_off: false,
      fields: [...ASKED],
      deliveries: ['page'],
      first_minutes: 15,
      asks_consent: false,
    })
  else if (kind === 'sponsor') ways.value.push({ ...SPONSOR, fields: [...ASKED], domains: [], plan })
  else if (kind === 'passcode') ways.value.push({ ...PASSCODE, tells: [], plan })
  else if (kind === 'passphrase') ways.value.push({ way: kind, is_off: false, files: [] })
  else ways.value.push({ way: kind, is_off: false })
}
function move(at: number, by: number): void {
  const [way] = ways.value.splice(at, 1)
  if (way) ways.value.splice(at + by, 0, way)
}
function hours(way: Way, text: string): void {
  if (way.way === 'click_through') way.again_after_hours = text.trim() === '' ? null : Number(text)
}

async function save(): Promise<void> {
  const saved = await act(async () => {
    if (asksRules.value && rulesChanged.value) {
      await got(api.PUT('/api/house-rules', { body: { texts: { en: en.value, de: de.value } } }))
    }
    return got(
      api.PUT('/api/networks/{network}/ways', {
        params: { path: { network: props.network.id } },
        body: { ways: ways.value },
      }),
    )
  })
  if (saved) emit('saved')
}
</script>

<template>
  <form :aria-label="`Ways in on ${network.name}`" @submit.prevent="save">
    <p v-if="!ways.length" class="soft">Nothing: whoever comes is told to ask at the desk.</p>
    <ol>
      <li v-for="(way, n) in ways" :key="way.way" :class="{ off: way.is_off }">
        <div class="head">
          <b>{{ KINDS[way.way].title }}</b>
          <span class="soft">{{
            way.is_off ? 'Switched off: it stays as it is set, and lets nobody in.' : KINDS[way.way].says
          }}</span>
          <v-btn size="x-small" variant="text" :disabled="n === 0" @click="move(n, -1)">Up</v-btn>
          <v-btn size="x-small" variant="text" :disabled="n === ways.length - 1" @click="move(n, 1)">
            Down
          </v-btn>
          <v-btn size="x-small" variant="text" @click="way.is_off = !way.is_off">
            {{ way.is_off ? 'Switch on' : 'Switch off' }}
          </v-btn>
          <v-btn size="x-small" variant="text" @click="ways.splice(n, 1)">Take away</v-btn>
        </div>
        <PasscodeFields
          v-if="way.way === 'passcode'"
          :model-value="way"
          :network="network"
          :plans="plans"
          :faults="fault('ways')"
        />
        <RegistrationFields
          v-if="way.way === 'self_registration'"
          :model-value="way"
          :plans="plans"
          :faults="fault('ways')"
        />
        <SponsorFields
          v-if="way.way === 'sponsor'"
          :model-value="way"
          :plans="plans"
          :network="network.id"
          :faults="fault('ways')"
        />
        <PassphraseFields
          v-if="way.way === 'passphrase'"
          :model-value="way"
          :devices="setup.devices"
          :faults="fault('ways')"
        />
        <div v-if="way.way === 'always'" class="settings">
          <v-select
            v-model="way.plan"
            :items="plans"
            label="Plan, without time and data"
            :error-messages="fault('ways')"
          />
        </div>
        <div v-if="way.way === 'click_through'" class="settings">
          <v-select v-model="way.plan" :items="plans" label="Plan" :error-messages="fault('ways')" />
          <v-text-field
            :model-value="way.again_after_hours?.toString() ?? ''"
            label="Who used it up may agree again after"
            placeholder="never"
            suffix="hours"
            inputmode="numeric"
            persistent-placeholder
            @update:model-value="(text: string) => hours(way, text)"
          />
          <v-checkbox v-model="way.shows_whole" label="The button below the whole text" />
          <v-checkbox v-model="way.asks_name" label="Ask for a name, confirmed by nobody" />
          <v-checkbox v-model="way.asks_mail" label="Ask for a mail address, confirmed by nobody" />
          <v-checkbox v-model="way.asks_when_changed" label="Ask again once the rules were written anew" />
        </div>
        <WayMore v-model="ways[n]!" :name="KINDS[way.way].title" :faults="fault('hours')" />
      </li>
    </ol>
    <div class="acts">
      <v-btn v-for="kind in missing" :key="kind" size="small" @click="add(kind)">
        Offer {{ kind === 'sponsor' ? 'asking a host' : KINDS[kind].title.toLowerCase() }}
      </v-btn>
    </div>
    <template v-if="asksRules">
      <h2 class="rules">House rules</h2>
      <p class="soft">
        An empty line begins a new paragraph. A change makes a new version: who agrees from then on agrees to
        that one. In force:
        {{ setup.house_rules.version ? `version ${setup.house_rules.version}` : 'none yet' }}.
      </p>
      <div class="texts">
        <v-textarea v-model="en" label="English" rows="7" />
        <v-textarea v-model="de" label="Deutsch" rows="7" />
      </div>
      <p v-if="!en.trim() && !de.trim()" class="note">
        Without house rules nobody can agree to them, so guests are not shown this way in.
      </p>
    </template>
    <p v-if="!missing.includes('voucher') && network.ways && ways.length > 1" class="soft">
      Guests see all of them on one page, in this order.
    </p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">Save</v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <span class="soft">Whoever is inside by a way that is switched off or taken away stays inside.</span>
    </div>
  </form>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 6px 0;
  padding: 0;
}
li {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 8px 0;
}
.off b {
  color: rgb(var(--v-theme-soft));
  font-weight: 400;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.head .soft {
  flex: 1;
  font-size: 14.5px;
}
.settings {
  display: grid;
  grid-template-columns: minmax(0, 240px) minmax(0, 290px) minmax(0, 1fr);
  gap: 16px;
  padding: 10px 0 4px;
}
.texts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
  margin: 10px 0;
}
.rules {
  margin-top: 18px;
}
.acts {
  margin-top: 10px;
}
.note {
  margin: 0;
}
@media (max-width: 800px) {
  .texts,
  .settings {
    grid-template-columns: 1fr;
  }
}
</style>
