<script setup lang="ts">
// The activity record: who did what, from where, and what it was before and after.
import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type Act, type Actor } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import ReadingState from '../../../parts/ReadingState.vue'
import { useAct } from '../../../use/useAct'
import { useReading } from '../../../use/useReading'
import { useTimes } from '../../../use/useTimes'

const WHO = [
  { value: 'all', title: 'everybody who works here, programs and hosts' },
  { value: 'person', title: 'people who sign in' },
  { value: 'token', title: 'programs' },
  { value: 'host', title: 'hosts' },
  { value: 'command_line', title: 'the command line' },
  { value: 'guest', title: 'guests' },
]
const PAGE = 100
const { isBusy, problem, act } = useAct()
const times = useTimes()
const who = ref<'all' | Actor>('all')
const query = (before?: number) => ({ kinds: who.value === 'all' ? undefined : [who.value], before })
const page = (before?: number) => got(api.GET('/api/activity', { params: { query: query(before) } }))
const reading = useReading(() => page(), { newestAlone: true })
const { found: newest, load } = reading
const older = ref<Act[]>([])
const acts = computed(() => [...(newest.value ?? []), ...older.value])
const isAll = ref(false)
const filter = () => (who.value === 'all' ? '' : `kinds=${who.value}`)

async function more(): Promise<void> {
  const found = (await act(() => page(acts.value.at(-1)?.id))) ?? []
  older.value = [...older.value, ...found]
  isAll.value = found.length < PAGE
}
async function restart(): Promise<void> {
  newest.value = null
  older.value = []
  const found = await load()
  isAll.value = !!found && found.length < PAGE
}
onMounted(restart)
watch(who, restart)
</script>

<template>
  <section aria-label="Activity record">
    <div class="row head">
      <h2>Activity record</h2>
      <v-select v-model="who" class="who" :items="WHO" label="What was done by" />
      <a class="csv" :href="`/api/activity.csv?${filter()}`">As CSV</a>
    </div>
    <ReadingState :of="reading" />
    <ProblemNote :problem="problem" />
    <table v-if="acts.length" class="list">
      <thead>
        <tr>
          <th>When</th>
          <th>What</th>
          <th class="from">From</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in acts" :key="one.id">
          <td class="mono" :title="times.exact(one.at)">{{ times.clock(one.at) }}</td>
          <td class="wide">
            {{ one.text }}
            <span v-for="[name, before, after] in one.changes" :key="name" class="change">
              {{ name }}
              <template v-if="before"
                ><s>{{ before }}</s> →</template
              >
              {{ after }}
            </span>
          </td>
          <td class="mono soft from">{{ one.source || '·' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="newest" class="empty">Nothing yet.</p>
    <v-btn v-if="acts.length && !isAll" size="small" class="mt-3" :disabled="isBusy" @click="more"
      >Earlier</v-btn
    >
  </section>
</template>

<style scoped>
.head {
  align-items: center;
}
.who {
  max-width: 360px;
}
.wide {
  white-space: normal !important;
}
.change {
  display: block;
  font-size: 13.5px;
  color: rgb(var(--v-theme-soft));
  overflow-wrap: anywhere;
}
.csv {
  font-size: 14px;
}
@media (max-width: 700px) {
  .from {
    display: none;
  }
}
</style>
