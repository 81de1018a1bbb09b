<script setup lang="ts">
// The desk's day: what was issued, what ends soon, what could not be sent; acted on one by one or together.
import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type Batch, type Desk, type Issued } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'
import ActBar from './ActBar.vue'
import BatchList from './BatchList.vue'
import IssuedRow from './IssuedRow.vue'
import type { sentTo } from './wish'

const props = defineProps<{ desk: Desk; latest: Batch | null }>()
const emit = defineEmits<{
  changed: []
  made: [batch: Batch, password: string | null]
  print: [Batch, boolean]
}>()
const { isBusy, problem, act } = useAct()
const live = useLive()
const session = useSession()
const tab = ref<'issued' | 'ending' | 'failed'>('issued')
const reading = useReading(() =>
  Promise.all([got(api.GET('/api/desk/ending')), got(api.GET('/api/desk/not-sent'))]),
)
const ending = computed(() => reading.found.value?.[0] ?? [])
const failed = computed(() => reading.found.value?.[1] ?? [])
const picked = ref(new Map<number, Issued>())
const issued = computed(() => props.desk.batches.reduce((sum, batch) => sum + batch.size, 0))
const used = computed(() => props.desk.batches.reduce((sum, batch) => sum + batch.used, 0))
const TABS = computed(() => [
  { key: 'issued' as const, word: 'Today and yesterday', count: issued.value },
  { key: 'ending' as const, word: 'Ending within two hours', count: reading.found.value?.[0].length },
  { key: 'failed' as const, word: 'Not sent', count: reading.found.value?.[1].length },
])
const rows = computed(() => (tab.value === 'ending' ? ending.value : failed.value))

async function load(): Promise<void> {
  await reading.load()
  seen([...ending.value, ...failed.value, ...props.desk.batches.flatMap((batch) => batch.issued)])
}
onMounted(load)
watch(() => live.now?.line?.id, load)
watch(() => props.desk, load)

/** What is picked is shown as it is now. */
function seen(now: Issued[]): void {
  for (const one of now) if (picked.value.has(one.id)) picked.value.set(one.id, one)
}
function pick(one: Issued): void {
  if (!picked.value.delete(one.id)) picked.value.set(one.id, one)
}
const which = (one: Issued) => ({ path: { issued: one.id } })
async function forget(one: Issued): Promise<void> {
  if (await act(() => got(api.POST('/api/issued/{issued}/forget', { params: which(one) })))) emit('changed')
}
async function send(one: Issued, to: NonNullable<ReturnType<typeof sentTo>>): Promise<void> {
  const sent = await act(() => got(api.POST('/api/issued/{issued}/send', { params: which(one), body: to })))
  if (sent) emit('changed')
}
async function renew(one: Issued): Promise<void> {
  const made = await act(() =>
    got(api.POST('/api/issued/{issued}/password', { params: { path: { issued: one.id } }, body: {} })),
  )
  if (made) emit('made', made.batch, made.password)
}
</script>

<template>
  <section aria-label="Today">
    <div class="tabs" role="group" aria-label="Which list">
      <button
        v-for="one in TABS"
        :key="one.key"
        :aria-pressed="tab === one.key"
        :class="{ on: tab === one.key }"
        @click="tab = one.key"
      >
        {{ one.word }} <span class="soft">{{ one.count?.toLocaleString('en') }}</span>
      </button>
      <span v-if="tab === 'issued'" class="soft">{{ used.toLocaleString('en') }} used</span>
      <a class="csv" href="/api/desk.csv" title="Seven days, a line for each">As CSV</a>
    </div>
    <ReadingState :of="reading" />
    <ProblemNote :problem="problem" />
    <ActBar
      v-if="session.may('help')"
      :picked="[...picked.values()]"
      @changed="emit('changed')"
      @clear="picked.clear()"
    />
    <template v-if="tab === 'issued'">
      <BatchList
        v-if="desk.batches.length"
        :batches="desk.batches"
        :latest="latest"
        :picked="picked"
        :sends="desk.sends"
        :busy="isBusy"
        :problem="problem"
        @pick="pick"
        @print="(batch, unused) => emit('print', batch, unused)"
        @send="send"
        @act="forget"
        @renew="renew"
        @shown="seen"
      />
      <p v-else class="empty">
        Nothing issued today or yesterday. Choose a plan and press Enter: the code shows at once, ready to
        print.
      </p>
    </template>
    <template v-else>
      <table v-if="rows.length" class="list">
        <tbody>
          <IssuedRow
            v-for="one in rows"
            :key="one.id"
            :issued="one"
            :busy="isBusy"
            :is-picked="picked.has(one.id)"
            :sends="desk.sends"
            :problem="problem"
            @pick="pick(one)"
            @send="(to) => send(one, to)"
            @forget="forget(one)"
            @renew="renew(one)"
          />
        </tbody>
      </table>
      <p v-else-if="reading.found.value" class="empty">
        {{
          tab === 'ending'
            ? 'Nobody who is in now ends within two hours.'
            : 'Everything that was sent in the last two days has arrived, or is on its way.'
        }}
      </p>
    </template>
  </section>
</template>

<style scoped>
section {
  margin-top: 26px;
}
.tabs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  align-items: baseline;
  margin-bottom: 8px;
}
.tabs button {
  padding: 4px 0;
  border-bottom: 2px solid transparent;
}
.tabs .on {
  font-weight: 700;
  border-color: rgb(var(--v-theme-primary));
}
.csv {
  font-size: 14px;
  margin-left: auto;
}
</style>
