<script setup lang="ts">
// The composer: who, what, where, under which plan, until when, on how many devices, sent where; Enter issues it.
import { computed, nextTick, ref, watch } from 'vue'
import type { VTextField } from 'vuetify/components'

import {
  api,
  got,
  ApiProblem,
  type Batch,
  type Desk,
  type Known,
  type WishWords,
  type Job,
} from '../../api/client'
import JobLine from '../../parts/issuing/JobLine.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import { kept } from '../../use/kept'
import { useAct } from '../../use/useAct'
import { useJob } from '../../use/useJob'
import CodesLine from './CodesLine.vue'
import KnownGuests from './KnownGuests.vue'
import MoreFields from './MoreFields.vue'
import PasteList from './PasteList.vue'
import { next, nothing, terms, type Wish, issueMany, issueOf } from './wish'

const props = defineProps<{ desk: Desk }>()
const emit = defineEmits<{
  issued: [batch: Batch, password: string | null]
  shows: [wish: Wish]
  listed: []
}>()
const { isBusy, problem, act, read, fault } = useAct()
const WHAT = [
  { value: 'voucher', title: 'Voucher' },
  { value: 'guest_pass', title: 'Guest pass' },
  { value: 'account', title: 'Account' },
  { value: 'passphrase', title: 'Passphrase' },
] as const
const FEW = 100
const WAIT_MS = 150
const REMEMBERED = 'lauschen.what'
const wish = ref<Wish>({ ...nothing(), what: remembered() })
const words = ref<WishWords | null>(null)
const hasMore = ref(false)
const hasList = ref(false)
const { job, isRunning, run, cancel } = useJob('issue')
const isCancelled = ref(false)
const labelField = ref<VTextField | null>(null)
const countField = ref<VTextField | null>(null)
const known = ref<InstanceType<typeof KnownGuests> | null>(null)

const handfuls = computed(() => [10, 40].filter((many) => many <= (props.desk.bounds.most_at_once ?? 40)))
const isMany = computed(() => wish.value.what === 'voucher')
const plan = computed(() => props.desk.plans.find((one) => one.id === wish.value.plan) ?? null)
/** The same lists while nothing of them changed, whatever else of the desk did: a press in an open one is not lost. */
const places = computed<Desk['networks']>((before) => kept(before, props.desk.networks))
const plans = computed<Desk['plans']>((before) => kept(before, props.desk.plans))
const networks = computed(() => places.value.filter((one) => one.ways.includes(wish.value.what)))
/** Those that some network takes. */
const whats = computed(() =>
  WHAT.filter((one) => one.value !== 'passphrase' || places.value.some((n) => n.ways.includes(one.value))),
)
/** A passphrase belongs to one Wi-Fi. */
const needsNetwork = computed(() => props.desk.bounds.needs_network || wish.value.what === 'passphrase')
const where = computed(() => [
  ...(needsNetwork.value ? [] : [{ id: null, name: 'everywhere' }]),
  ...networks.value,
])
const sends = computed(() => props.desk.sends)
const cannot = computed(() =>
  props.desk.cannot.filter(
    (one) =>
      (one.about === 'plan' && one.id === wish.value.plan) ||
      (one.about === 'network' && networks.value.some((n) => n.id === one.id)) ||
      (one.about === 'mail' && wish.value.to.includes('@')) ||
      (one.about === 'text' && wish.value.to && !wish.value.to.includes('@')),
  ),
)
const sendLabel = computed(() => {
  const names: Record<string, string> = { mail: 'mail address', text: 'phone number' }
  return `Send to: ${sends.value.map((way) => names[way]).join(' or ')}`
})

function remembered(): Wish['what'] {
  const kept = localStorage.getItem(REMEMBERED)
  return WHAT.find((one) => one.value === kept)?.value ?? 'voucher'
}
watch(
  () => [props.desk, wish.value.what] as const,
  ([desk, what]) => {
    wish.value.plan ??= desk.plans[0]?.id ?? null
    localStorage.setItem(REMEMBERED, what)
    // Who may issue for one network alone is not asked which.
    const only = needsNetwork.value ? networks.value[0]?.id : null
    if (!where.value.some((one) => one.id === wish.value.network)) wish.value.network = only ?? null
  },
  { immediate: true },
)
let asked = 0
watch(
  wish,
  (now) => {
    emit('shows', now)
    const mine = ++asked
    setTimeout(async () => {
      if (mine !== asked || now.plan === null) return
      const said = { ...terms(now), count: isMany.value ? Number(now.count) || 1 : 1 }
      const found = await read(() => got(api.POST('/api/desk/words', { body: said })))
      if (mine === asked) words.value = found ?? null
    }, WAIT_MS)
  },
  { deep: true, immediate: true },
)
/** What the server said when it was tried, and what it says while it is typed. */
const standing = computed(() => {
  if (problem.value) return problem.value
  if (!words.value?.field) return null
  return new ApiProblem(422, 'wish', 'That cannot be', words.value.mend ?? '', words.value.field)
})
const wrong = (name: string) =>
  fault(name).length ? fault(name) : standing.value?.field === name ? [standing.value.message] : []

/** Many take a while: how far they are is shown, and Cancel takes all of them back. */
async function issueLong(begin: () => Promise<Job>): Promise<Batch | undefined> {
  const { batch, state, error } = await run(begin)
  job.value = null
  if (state === 'failed') throw new ApiProblem(422, 'job', 'That did not work', error ?? '', null)
  isCancelled.value = batch === null
  return batch === null ? undefined : got(api.GET('/api/batches/{batch}', { params: { path: { batch } } }))
}
async function issue(count: number): Promise<void> {
  isCancelled.value = false
  const made = await act(() =>
    isMany.value && count > FEW ? issueLong(() => issueMany(wish.value, count)) : issueOf(wish.value, count),
  )
  if (!made) return
  wish.value = next(wish.value)
  hasMore.value = false
  ;(document.activeElement as HTMLElement | null)?.blur() // so that p, m and t are keys again
  if ('password' in made) emit('issued', made.batch, made.password)
  else if ('passphrase' in made) emit('issued', made.batch, null)
  else emit('issued', made, null)
}
function take(one: Known): void {
  wish.value.label = one.label
  if (one.way !== 'account') wish.value.what = one.way as Wish['what']
  if (one.plan !== null) wish.value.plan = one.plan
  if (one.sent) {
    wish.value.to = one.sent.to
    wish.value.lang = one.sent.lang
    wish.value.what = 'guest_pass'
  }
}
function focus(field: 'label' | 'count'): void {
  if (field === 'count') wish.value.what = 'voucher'
  void nextTick(() => {
    const found = field === 'count' ? countField.value : labelField.value
    found?.focus()
    found?.select()
  })
}
defineExpose({ focus })
</script>

<template>
  <form aria-label="Issue" @submit.prevent="issue(isMany ? Number(wish.count) : 1)">
    <div class="composer">
      <v-text-field
        ref="labelField"
        v-model="wish.label"
        class="who"
        variant="plain"
        density="default"
        :label="isMany ? 'For, if you like' : 'Guest'"
        maxlength="80"
        placeholder="name, party or occasion"
        persistent-placeholder
        autocomplete="off"
        :required="!isMany"
        :error-messages="fault('label')"
        @keydown.alt.down.prevent="known?.takeFirst()"
      />
      <v-select
        v-model="wish.what"
        class="what"
        variant="plain"
        density="default"
        label="What"
        :items="whats"
      />
      <v-select
        v-if="where.length > 1"
        v-model="wish.network"
        class="where"
        variant="plain"
        density="default"
        label="Good on"
        :items="where"
        item-title="name"
        item-value="id"
        :error-messages="wrong('network')"
      />
      <v-select
        v-model="wish.plan"
        class="plan"
        variant="plain"
        density="default"
        label="Plan"
        :items="plans"
        item-title="name"
        item-value="id"
        :error-messages="wrong('plan')"
      />
      <span class="break" aria-hidden="true"></span>
      <v-text-field
        v-model="wish.until"
        class="until"
        variant="plain"
        density="default"
        label="Good until"
        type="datetime-local"
        persistent-placeholder
        :error-messages="wrong('until')"
      />
      <v-text-field
        v-model="wish.devices"
        class="small"
        variant="plain"
        density="default"
        label="Devices"
        inputmode="numeric"
        :disabled="wish.seats === 'any'"
        :placeholder="`${plan?.devices ?? 1}`"
        persistent-placeholder
        :error-messages="wrong('devices')"
      />
      <v-text-field
        v-if="isMany"
        ref="countField"
        v-model.number="wish.count"
        class="small"
        variant="plain"
        density="default"
        label="How many"
        type="number"
        min="1"
        max="100000"
        required
        :error-messages="wrong('count')"
      />
      <v-text-field
        v-else-if="sends.length"
        v-model="wish.to"
        class="to"
        variant="plain"
        density="default"
        :label="sendLabel"
        maxlength="254"
        inputmode="email"
        autocomplete="off"
        placeholder="nowhere"
        persistent-placeholder
        :error-messages="fault('to')"
      />
    </div>
    <KnownGuests ref="known" :name="wish.label" @take="take" />
    <MoreFields
      v-if="hasMore || wish.what === 'account' || wish.what === 'passphrase'"
      v-model="wish"
      :plan="plan"
      :problem="standing"
      :sends="sends"
    />
    <p class="soft sentence" role="status">{{ words?.sentence || plan?.sentence }}</p>
    <CodesLine
      v-if="isMany && (Number(wish.count) > 1 || wish.length !== 10)"
      :count="Number(wish.count)"
      :length="wish.length"
      @length="wish.length = $event"
    />
    <p v-for="one in cannot" :key="one.text" class="note">{{ one.text }}</p>
    <p v-if="!isMany && !sends.length" class="soft">
      It cannot be sent yet: no mail server and no text gateway is set
      <router-link to="/settings?part=channels">in Settings</router-link>.
    </p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn
        type="submit"
        variant="flat"
        color="primary"
        size="large"
        :disabled="isBusy || isRunning || !plan"
      >
        {{ !isMany || Number(wish.count) === 1 ? 'Issue' : `Issue ${Number(wish.count).toLocaleString('en')}`
        }}<kbd>Enter</kbd>
      </v-btn>
      <template v-if="isMany">
        <v-btn v-for="many in handfuls" :key="many" :disabled="isBusy || isRunning" @click="issue(many)">
          Issue {{ many }}
        </v-btn>
      </template>
      <v-btn
        v-if="wish.what !== 'account' && wish.what !== 'passphrase'"
        variant="text"
        :aria-expanded="hasMore"
        @click="hasMore = !hasMore"
      >
        {{ hasMore ? 'Less' : 'Other terms, words, price' }}
      </v-btn>
      <router-link v-if="wish.what === 'passphrase'" to="/passphrases">Many at once</router-link>
      <v-btn v-else variant="text" :aria-expanded="hasList" @click="hasList = !hasList">From a list</v-btn>
    </div>
    <PasteList
      v-if="hasList && wish.what !== 'passphrase'"
      :wish="wish"
      @issued="emit('listed')"
      @close="hasList = false"
    />
    <JobLine v-if="job" :job="job" made="made. They count once all are there." @cancel="cancel" />
    <p v-else-if="isCancelled" role="status">Cancelled: nothing was issued.</p>
  </form>
</template>

<style scoped src="./composer.css"></style>
