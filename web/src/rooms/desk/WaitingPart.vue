<script setup lang="ts">
// Guests who wait for a host: since when, who was asked; ask another, or decide in their stead.
import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type Host, type Vouching } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'
import { useTimes } from '../../use/useTimes'

const { isBusy, problem, act, read } = useAct()
const times = useTimes()
const session = useSession()
const live = useLive()
const reading = useReading(() => got(api.GET('/api/vouchings')))
const { found: all, load } = reading
const hosts = ref<Host[]>([])
const open = ref<number | null>(null)
const length = ref('')
const word = ref('')
const asks = ref<number | null>(null)
const waiting = computed(() => (all.value ?? []).filter((one) => one.state === 'waiting'))
const over = computed(() => (all.value ?? []).filter((one) => one.state === 'over'))

onMounted(load)
watch(() => live.now?.line?.id, load)

async function turn(one: Vouching): Promise<void> {
  open.value = open.value === one.id ? null : one.id
  length.value = one.lengths[0]?.key ?? ''
  word.value = ''
  asks.value = null
  if (!hosts.value.length) hosts.value = (await read(() => got(api.GET('/api/hosts')))) ?? []
}
const others = (one: Vouching) =>
  hosts.value.filter(
    (host) =>
      (!host.networks?.length || host.networks.includes(one.network)) &&
      !one.asked.some((asked) => asked.name === host.name),
  )
async function answer(one: Vouching, isYes: boolean): Promise<void> {
  const said = { length: isYes ? length.value : null, word: word.value }
  if (
    await act(() =>
      got(
        api.POST('/api/vouchings/{vouching}/answer', { params: { path: { vouching: one.id } }, body: said }),
      ).then(() => true),
    )
  )
    open.value = null
  await load()
}
async function ask(one: Vouching): Promise<void> {
  const host = asks.value
  if (host === null) return
  await act(() =>
    got(
      api.POST('/api/vouchings/{vouching}/ask', {
        params: { path: { vouching: one.id } },
        body: { host },
      }),
    ),
  )
  asks.value = null
  await load()
}
const askedWords = (one: Vouching) =>
  one.asked.length
    ? one.asked.map((asked) => asked.name + (asked.role === 'stand_in' ? ' (stand-in)' : '')).join(', ')
    : `nobody: there is no host called ${one.named || 'so'}`
</script>

<template>
  <section v-if="waiting.length || over.length || reading.problem.value" aria-label="Waiting for a host">
    <h2>Waiting for a host</h2>
    <ReadingState :of="reading" />
    <ProblemNote :problem="problem" />
    <div v-for="one in waiting" :key="one.id" class="one">
      <button class="turn" :aria-expanded="open === one.id" @click="turn(one)">
        {{ one.name || one.mac }}
      </button>
      <span>
        on {{ one.network_name }}, since
        <span :title="times.exact(one.at)">{{ times.clock(one.at) }}</span>
      </span>
      <span class="soft">asked: {{ askedWords(one) }}</span>
      <span v-for="asked in one.asked.filter((a) => a.fault)" :key="asked.name" class="bad">
        {{ asked.name }} could not be written to: {{ asked.fault }}
      </span>
      <div v-if="open === one.id" class="more">
        <dl v-if="one.said.length">
          <template v-for="[label, text] in one.said" :key="label">
            <dt>{{ label }}</dt>
            <dd>{{ text }}</dd>
          </template>
        </dl>
        <form
          v-if="session.may('help')"
          class="row"
          :aria-label="`Decide for ${one.name}`"
          @submit.prevent="answer(one, true)"
        >
          <v-select
            v-model="length"
            :items="one.lengths"
            item-title="words"
            item-value="key"
            label="For how long"
          />
          <v-text-field v-model="word" label="A word to the guest" maxlength="200" />
          <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy">Let in</v-btn>
          <v-btn size="small" :disabled="isBusy" @click="answer(one, false)">Say no</v-btn>
        </form>
        <form v-if="others(one).length && session.may('help')" class="row others" @submit.prevent="ask(one)">
          <v-select
            v-model="asks"
            :items="others(one)"
            item-title="name"
            item-value="id"
            label="Another host"
          />
          <v-btn type="submit" size="small" :disabled="isBusy || asks === null">Ask them too</v-btn>
          <span class="soft">The first answer counts.</span>
        </form>
      </div>
    </div>
    <p v-for="one in over" :key="one.id" class="soft over">
      {{ one.name || one.mac }} asked at {{ times.clock(one.at) }} on {{ one.network_name }}, and nobody
      answered ({{ askedWords(one) }}).
    </p>
  </section>
</template>

<style scoped>
section {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  margin-bottom: 16px;
  padding-bottom: 8px;
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 5px 0;
}
.turn {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.more {
  flex-basis: 100%;
  padding: 4px 0 8px;
}
.row {
  display: grid;
  grid-template-columns: minmax(0, 260px) minmax(0, 1fr) auto auto;
  margin-top: 8px;
}
.others {
  grid-template-columns: minmax(0, 260px) auto 1fr;
}
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 2px 12px;
  margin: 0;
}
dt {
  color: rgb(var(--v-theme-soft));
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.bad {
  color: rgb(var(--v-theme-barred));
  flex-basis: 100%;
}
.over {
  margin: 4px 0;
}
@media (max-width: 800px) {
  .row,
  .others {
    grid-template-columns: 1fr;
  }
}
</style>
