<script setup lang="ts">
// Browsers at which somebody is signed in; each can be signed out.
import { onMounted } from 'vue'

import { api, got, type SignedIn } from '../api/client'
import { useAct } from '../use/useAct'
import { useTimes } from '../use/useTimes'
import { useReading } from '../use/useReading'
import ProblemNote from './ProblemNote.vue'
import ReadingState from './ReadingState.vue'

const props = defineProps<{ of: number | null; fixed?: boolean }>()
const { isBusy, problem, act } = useAct()
const times = useTimes()

/** Of a person, or one's own. */
const sessions = () =>
  props.of === null
    ? got(api.GET('/api/own/sessions'))
    : got(api.GET('/api/people/{person}/sessions', { params: { path: { person: props.of } } }))
const reading = useReading(sessions)
const { found: all, load } = reading
onMounted(load)

async function end(one: SignedIn): Promise<void> {
  const session = one.id
  await act(() =>
    (props.of === null
      ? api.DELETE('/api/own/sessions/{other}', { params: { path: { other: session } } })
      : api.DELETE('/api/people/{person}/sessions/{session}', {
          params: { path: { person: props.of, session } },
        })
    ).then(() => true),
  )
  await load()
}

/** As people call their browser; the whole of it stands in the title. */
function browser(text: string): string {
  const known = ['Firefox', 'Edg', 'Chrome', 'Safari'].find((name) => text.includes(name))
  const system = ['Windows', 'Android', 'iPhone', 'iPad', 'Mac', 'Linux'].find((name) => text.includes(name))
  const name = known === 'Edg' ? 'Edge' : known
  return [name ?? 'A browser', system ? `on ${system}` : ''].join(' ').trim()
}
</script>

<template>
  <ReadingState :of="reading" />
  <ProblemNote :problem="problem" />
  <ul>
    <li v-for="one in all" :key="one.id">
      <span :title="one.browser">{{ browser(one.browser) }}</span>
      <span class="soft">
        from {{ one.source || 'nowhere we know' }}, since
        <span :title="times.exact(one.begun)">{{ times.clock(one.begun) }}</span>
      </span>
      <span v-if="one.is_this" class="soft">· this one</span>
      <v-btn v-else-if="!fixed" size="x-small" :disabled="isBusy" @click="end(one)">Sign out there</v-btn>
    </li>
  </ul>
  <p v-if="all && !all.length" class="soft">Nowhere.</p>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  min-height: 34px;
}
</style>
