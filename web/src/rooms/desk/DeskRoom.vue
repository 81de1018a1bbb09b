<script setup lang="ts">
// The room Desk: the composer with the slip beside it, who waits for a host, and the day.
import { nextTick, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'

import { api, got, type Batch } from '../../api/client'
import JobLine from '../../parts/issuing/JobLine.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useJob } from '../../use/useJob'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import IssueForm from './IssueForm.vue'
import PasscodesNow from './PasscodesNow.vue'
import SlipAside from './SlipAside.vue'
import TodayPart from './TodayPart.vue'
import WaitingPart from './WaitingPart.vue'
import { nothing, type Wish } from './wish'

const SLIPS_AT_ONCE = 1000
const reading = useReading(() => got(api.GET('/api/desk')))
const { found: desk } = reading
const latest = ref<Batch | null>(null)
/** Of the account that was just issued; it cannot be read again. */
const password = ref<string | null>(null)
const wish = ref<Wish | null>(null)
const { job: printing, isRunning, run, cancel: cancelPrint } = useJob('slips')
const composer = ref<InstanceType<typeof IssueForm> | null>(null)
const { problem, act } = useAct()
const session = useSession()
const live = useLive()
const route = useRoute()

async function load(): Promise<void> {
  await reading.load()
  const made = latest.value
  const now = desk.value?.batches.find((batch) => batch.id === made?.id)
  if (made && now && now.size === 1) latest.value = now
}
/** What was just issued stands on the slip, until something else is typed. */
async function took(batch: Batch, word: string | null): Promise<void> {
  latest.value = batch
  password.value = word
  await load()
}
function composed(now: Wish): void {
  wish.value = { ...now }
  const usual = { ...nothing(), what: now.what, plan: now.plan, network: now.network, lang: now.lang }
  if (JSON.stringify(now) === JSON.stringify(usual)) return
  latest.value = null
  password.value = null
}
async function print(batch: Batch, unused: boolean): Promise<void> {
  const query = unused ? '?unused=true' : ''
  if (batch.size <= SLIPS_AT_ONCE) {
    window.open(`/api/batches/${batch.id}/slips.pdf${query}`, '_blank', 'noopener')
    return
  }
  if (isRunning.value) return
  await act(() =>
    run(() =>
      got(
        api.POST('/api/batches/{batch}/slips', { params: { path: { batch: batch.id }, query: { unused } } }),
      ),
    ),
  )
}
function focusWanted(): void {
  void nextTick(() => composer.value?.focus(route.query.focus === 'many' ? 'count' : 'label'))
}
onMounted(async () => {
  await load()
  focusWanted()
})
watch(() => route.fullPath, focusWanted)
watch(() => live.now?.line?.id, load)
useKeys({
  n: () => composer.value?.focus('label'),
  b: () => composer.value?.focus('count'),
  Escape: () => (document.activeElement as HTMLElement | null)?.blur(),
})
</script>

<template>
  <div class="room desk">
    <div>
      <h1 v-if="session.may('issue')">Issue</h1>
      <h1 v-else>Desk</h1>
      <p v-if="session.session?.bounds" class="soft">You may give: {{ session.session.bounds }}</p>
      <ReadingState :of="reading" />
      <IssueForm
        v-if="desk && session.may('issue')"
        ref="composer"
        :desk="desk"
        @issued="took"
        @shows="composed"
        @listed="load"
      />
      <ProblemNote :problem="problem" />
      <JobLine v-if="printing" :job="printing" made="slips made." @cancel="cancelPrint">
        <template v-if="printing.state === 'done'">
          <a :href="`/api/jobs/${printing.id}/slips.pdf`" target="_blank" rel="noopener"
            >The slips are ready</a
          >
          <v-btn size="x-small" variant="text" @click="printing = null">Done</v-btn>
        </template>
        <template v-else>{{ printing.error ?? 'Cancelled: nothing was printed.' }}</template>
      </JobLine>
      <WaitingPart class="waiting" />
      <TodayPart v-if="desk" :desk="desk" :latest="latest" @changed="load" @made="took" @print="print" />
    </div>
    <aside v-if="desk">
      <PasscodesNow v-if="desk.passcodes.length" :passcodes="desk.passcodes" />
      <SlipAside
        v-if="session.may('issue')"
        :desk="desk"
        :wish="wish"
        :made="latest"
        :password="password"
        @sent="load"
      />
    </aside>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 360px;
  gap: 30px;
}
.waiting {
  margin-top: 26px;
}
aside {
  position: sticky;
  top: calc(var(--top) + 20px);
  align-self: start;
}
@media (max-width: 1200px) {
  .desk {
    grid-template-columns: minmax(0, 1fr) 280px;
    gap: 24px;
  }
}
@media (max-width: 1000px) {
  .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  aside {
    position: static;
    max-width: 440px;
  }
}
</style>
