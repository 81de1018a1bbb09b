<script setup lang="ts">
// What was sent, what waits, what failed: the other side's last words, and sending again.
import { computed, onMounted, ref, watch } from 'vue'

import { api, got, type Settings, type Message } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'
import { useReload } from '../../use/useReload'
import { useTimes } from '../../use/useTimes'

defineProps<{ settings: Settings }>()
const { isBusy, problem, act, read } = useAct()
const times = useTimes()
const live = useLive()
const STATES = ['', 'waiting', 'failed', 'sent'] as const
const state = ref<(typeof STATES)[number]>('')
const older = ref<Message[]>([])
const page = (before?: number) =>
  got(api.GET('/api/messages', { params: { query: { state: state.value || undefined, before } } }))
const reading = useReading(() => page())
const { found, load } = reading
const all = computed(() => [...(found.value?.messages ?? []), ...older.value])

async function more(): Promise<void> {
  const last = all.value.at(-1)
  const next = last && (await read(() => page(last.id)))
  if (next) older.value = [...older.value, ...next.messages]
}
async function again(message: Message): Promise<void> {
  if (
    await act(() =>
      got(api.POST('/api/messages/{message}/send-again', { params: { path: { message: message.id } } })),
    )
  )
    await load()
}
const word = (one: (typeof STATES)[number]) => {
  if (one === 'waiting') return `${found.value?.waiting ?? ''} waiting`
  if (one === 'failed') return `${found.value?.failed ?? ''} failed`
  return one || 'all'
}
function stands(message: Message): string {
  if (message.state === 'sent') return `sent ${times.clock(message.answer_at ?? message.written_at)}`
  if (message.state === 'failed')
    return `given up after ${message.tries} ${message.tries === 1 ? 'try' : 'tries'}`
  if (!message.tries) return 'on its way'
  return `next try ${times.clock(message.next_at ?? 0)}`
}
const ask = useReload(async () => void (await load()))
onMounted(ask)
watch(state, () => {
  older.value = []
  void load()
})
watch(() => live.now?.line?.id, ask)
</script>

<template>
  <div class="filters" role="group" aria-label="Which">
    <button
      v-for="s in STATES"
      :key="s"
      :class="{ on: s === state }"
      :aria-pressed="s === state"
      @click="state = s"
    >
      {{ word(s) }}
    </button>
  </div>
  <ReadingState :of="reading" />
  <ProblemNote :problem="problem" />
  <p v-if="found && !all.length" class="soft empty">
    {{ state ? 'None of these.' : 'Nothing was sent yet. The desk sends a pass with the field “Send to”.' }}
  </p>
  <div v-if="all.length" class="scroll">
    <table class="list">
      <thead>
        <tr>
          <th>To</th>
          <th>What</th>
          <th>State</th>
          <th class="roomy">What the other side said</th>
          <th class="roomy">Written</th>
          <th><span class="away">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in all" :key="m.id">
          <td>{{ m.to }}</td>
          <td>{{ m.about }}</td>
          <td :class="m.state">{{ stands(m) }}</td>
          <td class="roomy soft said">{{ m.answer }}</td>
          <td class="roomy soft" :title="times.exact(m.written_at)">{{ times.clock(m.written_at) }}</td>
          <td class="acts">
            <v-btn
              v-if="m.can_go_again && (m.state === 'failed' || m.tries)"
              class="changes"
              size="x-small"
              :disabled="isBusy"
              :aria-label="`Send again to ${m.to}`"
              @click="again(m)"
            >
              {{ m.state === 'failed' ? 'Send again' : 'Try now' }}
            </v-btn>
          </td>
        </tr>
      </tbody>
    </table>
    <v-btn v-if="all.length >= 50" class="mt-3" size="small" @click="more">Older ones</v-btn>
  </div>
</template>

<style scoped>
.filters {
  display: flex;
  gap: 20px;
  margin-bottom: 12px;
}
.filters button {
  padding: 4px 0;
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
}
.filters .on {
  text-decoration: none;
  font-weight: 700;
  color: inherit;
}
.said {
  white-space: normal;
  max-width: 34em;
  overflow-wrap: anywhere;
}
.failed {
  color: rgb(var(--v-theme-barred));
  font-weight: 700;
}
.acts {
  text-align: right;
}
</style>
