<script setup lang="ts">
// What guests are told of what becomes of their words, and what they tick to be written to.
import { onMounted, ref, watch } from 'vue'

import { api, got } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'

type Kind = 'privacy' | 'consent'
const KINDS = [
  {
    kind: 'privacy' as const,
    title: 'Privacy notice',
    says:
      'What you keep of guests, why, and for how long. The foot of the guest page leads to it. ' +
      'An empty line begins a new paragraph.',
    rows: 8,
    longest: 20_000,
  },
  {
    kind: 'consent' as const,
    title: 'Consent to be written to',
    says:
      'What stands beside the box, in one sentence. It is shown where a form asks for an address and Networks ' +
      'says so, and is never ticked before the guest does it.',
    rows: 2,
    longest: 400,
  },
]
const { isBusy, problem, act } = useAct()
const reading = useReading(() => got(api.GET('/api/privacy')))
const { found, load } = reading
const typed = ref<Record<Kind, { en: string; de: string }>>({
  privacy: { en: '', de: '' },
  consent: { en: '', de: '' },
})
const saved = ref<Kind | null>(null)

/** Read once; what somebody types afterwards is theirs. */
watch(found, (now, before) => {
  if (!now || before) return
  for (const kind of ['privacy', 'consent'] as const)
    typed.value[kind] = { en: now[kind].texts['en'] ?? '', de: now[kind].texts['de'] ?? '' }
})
const isChanged = (kind: Kind) =>
  (['en', 'de'] as const).some(
    (lang) => typed.value[kind][lang].trim() !== (found.value?.[kind].texts[lang] ?? ''),
  )
const missing = (kind: Kind) => {
  const { en, de } = typed.value[kind]
  if (!!en.trim() === !!de.trim()) return ''
  return en.trim()
    ? 'Guests who read German are shown the English words.'
    : 'Guests who read English are shown the German words.'
}
function agreedWords(count: number): string {
  if (!count) return 'Nobody has agreed yet.'
  const who = count === 1 ? 'One guest has' : `${count} guests have`
  return `${who} agreed; each with version, language, time and device.`
}
async function save(kind: Kind): Promise<void> {
  saved.value = null
  const now = await act(() =>
    got(api.PUT('/api/privacy/{kind}', { params: { path: { kind } }, body: { texts: typed.value[kind] } })),
  )
  if (!now) return
  if (found.value) found.value = now
  saved.value = kind
}
onMounted(load)
</script>

<template>
  <ReadingState :of="reading" />
  <template v-if="found">
    <form v-for="one in KINDS" :key="one.kind" :aria-label="one.title" @submit.prevent="save(one.kind)">
      <h2>
        {{ one.title }}
        <span class="soft plain">
          {{ found[one.kind].version ? `version ${found[one.kind].version} is in force` : 'not written yet' }}
        </span>
      </h2>
      <p class="soft says">{{ one.says }}</p>
      <div class="texts">
        <v-textarea v-model="typed[one.kind].en" label="English" :rows="one.rows" :maxlength="one.longest" />
        <v-textarea v-model="typed[one.kind].de" label="Deutsch" :rows="one.rows" :maxlength="one.longest" />
      </div>
      <p v-if="missing(one.kind)" class="note">{{ missing(one.kind) }}</p>
      <div class="acts">
        <v-btn
          type="submit"
          size="small"
          variant="flat"
          color="primary"
          :disabled="isBusy || !isChanged(one.kind)"
        >
          Save as version {{ found[one.kind].version + 1 }}
        </v-btn>
        <span v-if="saved === one.kind" role="status">Saved. Who comes from now on reads these words.</span>
        <template v-if="one.kind === 'consent'">
          <span class="soft">
            {{ agreedWords(found.consents) }}
          </span>
          <a v-if="found.consents" href="/api/consents.csv">As CSV</a>
        </template>
      </div>
    </form>
    <ProblemNote :problem="problem" />
  </template>
</template>

<style scoped>
form {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding-bottom: 14px;
  margin-bottom: 18px;
}
.plain {
  font-weight: 400;
  margin-left: 8px;
}
.says {
  max-width: 68em;
  margin: 4px 0 10px;
}
.texts {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 16px;
}
.acts {
  gap: 12px;
  margin-top: 10px;
}
@media (max-width: 800px) {
  .texts {
    grid-template-columns: 1fr;
  }
}
</style>
