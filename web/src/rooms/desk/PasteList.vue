<script setup lang="ts">
// A pasted list of guests: every bad line is shown and mended in place, then a pass is issued for all of them.
import { computed, ref, watch } from 'vue'

import { api, got, ApiProblem, type ListRead } from '../../api/client'
import CsvFile from '../../parts/issuing/CsvFile.vue'
import JobLine from '../../parts/issuing/JobLine.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useJob } from '../../use/useJob'
import { terms, type Wish } from './wish'

const props = defineProps<{ wish: Wish }>()
const emit = defineEmits<{ issued: []; close: [] }>()
const { isBusy, problem, act } = useAct()
const text = ref('')
const found = ref<ListRead | null>(null)
/** Bad rows as they are being mended, by their first line. */
const mended = ref<Record<number, string>>({})
const { job, isRunning, run, cancel } = useJob('passes')
const said = ref('')
const lines = () => text.value.replace(/\r\n?/g, '\n').split('\n')
const isGood = computed(() => found.value !== null && !found.value.bad_count && found.value.guests > 0)
watch(text, () => (found.value = null))

async function look(): Promise<void> {
  said.value = ''
  weave()
  const asked = { text: text.value, lang: props.wish.lang }
  const read = await act(() => got(api.POST('/api/passes/lines/check', { body: asked })))
  if (!read) return
  found.value = read
  const all = lines()
  mended.value = Object.fromEntries(
    read.bad.map((row) => [row.first, all.slice(row.first - 1, row.last).join('\n')]),
  )
}
/** What was mended takes the place of its lines; from the end, so that numbers before it stay true. */
function weave(): void {
  if (!found.value?.bad.length) return
  const all = lines()
  for (const row of [...found.value.bad].reverse())
    all.splice(row.first - 1, row.last - row.first + 1, ...(mended.value[row.first] ?? '').split('\n'))
  text.value = all.join('\n')
}
async function issue(): Promise<void> {
  const wanted = { ...terms(props.wish), label: '', text: text.value, lang: props.wish.lang }
  const done = await act(async () => {
    const { state, error, of } = await run(() => got(api.POST('/api/passes/lines', { body: wanted })))
    job.value = null
    if (state === 'failed') throw new ApiProblem(422, 'job', 'Nothing was issued', error ?? '', null)
    said.value =
      state === 'done' ? `${of.toLocaleString('en')} passes are issued.` : 'Cancelled: nothing was issued.'
    return state === 'done'
  })
  if (!done) return
  text.value = ''
  emit('issued')
}
</script>

<template>
  <section class="paste" aria-label="A list of guests">
    <v-textarea
      v-model="text"
      class="mono"
      label="Name, send to, until, devices, note: a guest on each line"
      placeholder="Ines Harwood; ines@students.hollerau.example; 2026-12-06; 2"
      persistent-placeholder
      rows="6"
      hint="Commas, semicolons or tabs between them; the name alone is needed. The plan, and all else, is as above."
      persistent-hint
      spellcheck="false"
    />
    <div class="acts">
      <v-btn v-if="isGood" variant="flat" color="primary" :disabled="isBusy || isRunning" @click="issue">
        Issue {{ found?.guests.toLocaleString('en') }} passes{{
          found?.sent ? ` and send ${found.sent.toLocaleString('en')}` : ''
        }}
      </v-btn>
      <v-btn v-else :disabled="isBusy || !text.trim()" @click="look">
        {{ found?.bad.length ? 'Look again' : 'Look at it' }}
      </v-btn>
      <CsvFile @text="text = $event" />
      <v-btn variant="text" @click="emit('close')">Back</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <p v-if="said" role="status">{{ said }}</p>
    <p v-if="isBusy && !job" role="status" class="soft">Each line is being read.</p>
    <template v-if="found?.bad.length">
      <p role="status">
        {{ found.guests.toLocaleString('en') }} can be issued;
        {{ found.bad_count.toLocaleString('en') }} cannot be read yet. Mend them here, or empty them:
      </p>
      <div v-for="row in found.bad" :key="row.first" class="bad">
        <v-textarea
          v-model="mended[row.first]"
          class="mono"
          rows="1"
          auto-grow
          :label="row.last > row.first ? `Lines ${row.first} to ${row.last}` : `Line ${row.first}`"
          :error-messages="[row.why]"
          spellcheck="false"
        />
      </div>
    </template>
    <JobLine v-if="job" :job="job" made="made. They count once all are there." @cancel="cancel" />
  </section>
</template>

<style scoped>
.paste {
  margin-top: 16px;
}
.acts {
  margin: 12px 0;
}
.bad {
  margin: 8px 0;
}
</style>
