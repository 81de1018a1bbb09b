<script setup lang="ts">
// Acts on what is picked: each in force at once on running stays, and taken back by one key where that can be.
import { computed, ref } from 'vue'

import { api, got, type ActedOn, type Issued } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useUndo } from '../../use/useUndo'

const props = defineProps<{ picked: Issued[] }>()
const emit = defineEmits<{ changed: []; clear: [] }>()
const { isBusy, problem, act } = useAct()
const { last, did, undo } = useUndo()
const refused = ref<string[]>([])
const TIMES = [
  [1800, '30 min'],
  [3600, '1 h'],
  [7200, '2 h'],
  [86400, '1 day'],
] as const
type What =
  | 'give-time'
  | 'shorten'
  | 'give-back'
  | 'pause'
  | 'resume'
  | 'withdraw'
  | 'restore'
  | 'new-code'
  | 'send-again'
const BACK: Partial<Record<What, What>> = {
  'give-time': 'shorten',
  shorten: 'give-back',
  pause: 'resume',
  resume: 'pause',
  withdraw: 'restore',
  restore: 'withdraw',
}
const DID: Record<What, string> = {
  'give-time': 'given more time',
  shorten: 'shortened',
  'give-back': 'as long as before',
  pause: 'paused',
  resume: 'going on',
  withdraw: 'withdrawn',
  restore: 'good again',
  'new-code': 'given a new code',
  'send-again': 'on the way again',
}
const some = (state: string) => computed(() => props.picked.some((one) => one.state === state))
const isPaused = some('paused')
const isWithdrawn = some('withdrawn')
const wasSent = computed(() => props.picked.some((one) => one.sent))
const devices = computed(() => props.picked.reduce((sum, one) => sum + one.devices_in, 0))

async function run(
  what: What,
  issued: number[],
  seconds?: number,
  taken?: ActedOn['taken'],
): Promise<ActedOn | undefined> {
  const wish = { what, issued, seconds, taken }
  const done = await act(() => got(api.POST('/api/issued/acts', { body: wish })))
  refused.value = [...new Set(done?.refused.map((one) => one.text) ?? [])]
  if (done) emit('changed')
  return done
}
async function press(what: What, seconds?: number): Promise<void> {
  const ids = props.picked.map((one) => one.id)
  const done = await run(what, ids, seconds)
  if (!done?.done.length) return
  const changed = done.done.map((one) => one.id)
  const back = BACK[what]
  const count = changed.length === 1 ? (done.done[0]?.code ?? 'One') : String(changed.length)
  const says = `${count} ${changed.length === 1 ? 'is' : 'are'} ${DID[what]}.`
  did(says, back ? async () => !!(await run(back, changed, seconds, done.taken))?.done.length : null)
}
useKeys({ u: () => void undo() })
</script>

<template>
  <div v-if="picked.length" class="bar" role="toolbar" aria-label="What is picked">
    <b>{{ picked.length }} picked</b>
    <span v-if="devices" class="soft">{{ devices }} device{{ devices === 1 ? '' : 's' }} in by them</span>
    <v-menu>
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu" size="small" :disabled="isBusy">Give time</v-btn>
      </template>
      <v-list density="compact">
        <v-list-item v-for="[seconds, word] in TIMES" :key="seconds" @click="press('give-time', seconds)">
          {{ word }}
        </v-list-item>
      </v-list>
    </v-menu>
    <v-menu>
      <template #activator="{ props: menu }">
        <v-btn v-bind="menu" size="small" :disabled="isBusy">Shorten</v-btn>
      </template>
      <v-list density="compact">
        <v-list-item v-for="[seconds, word] in TIMES" :key="seconds" @click="press('shorten', seconds)">
          by {{ word }}
        </v-list-item>
      </v-list>
    </v-menu>
    <v-btn v-if="isPaused" size="small" :disabled="isBusy" @click="press('resume')">Resume</v-btn>
    <v-btn v-else size="small" :disabled="isBusy" @click="press('pause')">Pause</v-btn>
    <v-btn
      size="small"
      :disabled="isBusy"
      title="The one before lets nobody in any more; who is in stays in"
      @click="press('new-code')"
      >New code</v-btn
    >
    <v-btn v-if="wasSent" size="small" :disabled="isBusy" @click="press('send-again')">Send again</v-btn>
    <v-btn
      v-if="isWithdrawn"
      size="small"
      :disabled="isBusy"
      title="Good again; whom it sent out is in again"
      @click="press('restore')"
      >Restore</v-btn
    >
    <v-btn
      v-else
      size="small"
      :disabled="isBusy"
      :title="devices ? `Sends ${devices} out at once` : 'Lets nobody in any more'"
      @click="press('withdraw')"
      >Withdraw</v-btn
    >
    <v-btn size="small" variant="text" @click="emit('clear')">None</v-btn>
  </div>
  <ProblemNote :problem="problem" />
  <p v-if="last" role="status" class="did">
    {{ last.says }}
    <v-btn v-if="last.back" size="x-small" :disabled="isBusy" @click="undo">Undo<kbd>u</kbd></v-btn>
  </p>
  <p v-for="text in refused" :key="text" class="note">{{ text }}</p>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 10px;
  align-items: center;
  position: sticky;
  top: var(--top);
  z-index: 5;
  background: rgb(var(--v-theme-tint));
  padding: 8px 10px;
  border-radius: 8px;
}
.did {
  margin: 8px 0;
}
</style>
