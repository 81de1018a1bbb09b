<script setup lang="ts">
// Acts on devices that are picked, or on everybody in the state that is shown; what each brings is said before.
import { computed, ref, watch } from 'vue'

import { api, got, type Guest, type GuestsActedOn } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useUndo } from '../../use/useUndo'

const props = defineProps<{
  chosen: Guest[]
  state: string
  network: number
  total: number
  finds: boolean
}>()
const emit = defineEmits<{ changed: []; clear: [] }>()
type What = 'end-stay' | 'bar' | 'let-try-again'
const DID: Record<What, string> = {
  'end-stay': 'sent out',
  bar: 'barred',
  'let-try-again': 'let try again',
}
const { isBusy, problem, act } = useAct()
const { last, did, undo } = useUndo()
const refused = ref<string[]>([])
/** What is asked about once more before it is done to everybody. */
const sure = ref<What | null>(null)
watch(
  () => [props.state, props.network],
  () => (sure.value = null),
)
const inside = computed(() => props.chosen.filter((one) => one.state === 'inside').length)
const barred = computed(() => props.chosen.some((one) => one.state === 'barred' || one.typing_barred_until))
/** Whom nothing but a bar keeps out: they need no code. */
const comeBack = computed(
  () => props.chosen.filter((one) => ['always', 'click_through'].includes(one.way_in ?? '')).length,
)
const allWhat = computed<What | null>(() =>
  props.finds
    ? null
    : props.state === 'inside'
      ? 'end-stay'
      : props.state === 'barred'
        ? 'let-try-again'
        : null,
)
const allWords = computed(() => {
  const count = props.total.toLocaleString('en')
  return allWhat.value === 'end-stay' ? `End the stays of all ${count}` : `Let all ${count} barred try again`
})

async function run(what: What, body: object): Promise<GuestsActedOn | undefined> {
  const done = await act(() => got(api.POST('/api/guests/acts', { body: { what, ...body } })))
  refused.value = done?.refused.map((one) => `${one.count}: ${one.text}`) ?? []
  if (done) emit('changed')
  return done
}
async function press(what: What, body: object): Promise<void> {
  sure.value = null
  const done = await run(what, body)
  if (!done?.done.length) return
  const guests = done.done
  const back: What | null = what === 'bar' ? 'let-try-again' : null
  const count = guests.length.toLocaleString('en')
  const says = `${count} ${guests.length === 1 ? 'device is' : 'devices are'} ${DID[what]}.`
  const undone = 'They may try again; whoever was inside comes back by the page.'
  did(says, back ? async () => !!(await run(back, { guests }))?.done.length : null, undone)
  emit('clear')
}
const named = () => ({ guests: props.chosen.map(({ mac, network }) => ({ mac, network })) })
function all(): void {
  const what = allWhat.value
  if (!what) return
  if (sure.value !== what) {
    sure.value = what
    return
  }
  void press(what, { all_of: { state: props.state, network: props.network || null } })
}
useKeys({ u: () => void undo() })
</script>

<template>
  <div v-if="chosen.length" class="bar" role="toolbar" aria-label="What is picked">
    <b>{{ chosen.length }} picked</b>
    <v-btn
      v-if="inside"
      size="small"
      :disabled="isBusy"
      title="Out at once, and forgotten: the page asks again"
      @click="press('end-stay', named())"
      >End stay</v-btn
    >
    <v-btn v-if="barred" size="small" :disabled="isBusy" @click="press('let-try-again', named())"
      >Let try again</v-btn
    >
    <v-btn
      size="small"
      :disabled="isBusy"
      title="Refused on every network until somebody lets them try again"
      @click="press('bar', named())"
      >Bar</v-btn
    >
    <v-btn size="small" variant="text" @click="emit('clear')">None</v-btn>
    <span v-if="inside && comeBack" class="soft">
      {{ comeBack }} of them need no code, and are back as soon as they ask. <i>Bar</i> keeps them out.
    </span>
    <span v-else-if="inside" class="soft">Whose stay ends is asked for the code again.</span>
  </div>
  <p v-else-if="allWhat && total" class="row">
    <v-btn size="small" :disabled="isBusy" @click="all" @blur="sure = null">
      {{ sure ? `Really: ${allWords.toLowerCase()}` : `${allWords}${network ? ' on this network' : ''}` }}
    </v-btn>
    <span v-if="sure === 'end-stay'" class="soft">
      All of them are out at once, and are asked again. This cannot be taken back.
    </span>
  </p>
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
