<script setup lang="ts">
// What messages say: chosen on the left, written in the middle, read on the right as it would arrive.
import { computed, ref, watch } from 'vue'

import { api, got, type Settings, type Words, type WordsPreview } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ settings: Settings }>()
const emit = defineEmits<{ saved: [] }>()
const { isBusy, problem, act, fault } = useAct()
const { problem: unclear, read: look } = useAct()
const LANGUAGES = { en: 'English', de: 'Deutsch' } as const
const HOW = {
  mail: 'by mail',
  text: 'as a text message',
  syslog: 'to machines',
  webhook: 'to machines',
} as const
const path = (one: Words) => `/api/templates/${one.kind}/${one.channel}/${one.lang}`
const chosen = ref(path(props.settings.templates[0]!))
const which = () => {
  const { kind, channel, lang } = one.value
  return { path: { kind, channel, lang } }
}
const one = computed(() => props.settings.templates.find((t) => path(t) === chosen.value)!)
const subject = ref('')
const body = ref('')
const preview = ref<WordsPreview | null>(null)
const groups = computed(() => {
  const found = new Map<string, Words[]>()
  for (const t of props.settings.templates) {
    const key = `${t.title} ${HOW[t.channel]}`
    found.set(key, [...(found.get(key) ?? []), t])
  }
  return [...found]
})
const isChanged = computed(() => subject.value !== one.value.subject || body.value !== one.value.body)

// Not each time that the house is read again: what was typed meanwhile would be lost.
watch(
  [chosen, () => one.value.subject, () => one.value.body],
  () => {
    subject.value = one.value.subject ?? ''
    body.value = one.value.body
  },
  { immediate: true },
)
const braced = (word: string) => `{${word}}`
let asked = 0
watch(
  [subject, body, chosen],
  async () => {
    const mine = ++asked
    unclear.value = null
    const said = { subject: subject.value, body: body.value }
    const found = await look(() =>
      got(api.POST('/api/templates/{kind}/{channel}/{lang}/preview', { params: which(), body: said })),
    )
    if (mine === asked && found) preview.value = found
  },
  { immediate: true },
)
async function save(): Promise<void> {
  if (
    await act(() =>
      got(
        api.PUT('/api/templates/{kind}/{channel}/{lang}', {
          params: which(),
          body: { subject: subject.value, body: body.value },
        }),
      ),
    )
  )
    emit('saved')
}
async function ours(): Promise<void> {
  if (await act(() => got(api.DELETE('/api/templates/{kind}/{channel}/{lang}', { params: which() }))))
    emit('saved')
}
</script>

<template>
  <div class="words">
    <nav aria-label="Messages">
      <div v-for="[title, all] in groups" :key="title" class="group">
        <span class="title">{{ title }}</span>
        <button
          v-for="t in all"
          :key="path(t)"
          class="lang"
          :class="{ on: path(t) === chosen }"
          :aria-pressed="path(t) === chosen"
          @click="chosen = path(t)"
        >
          {{ LANGUAGES[t.lang] }}<span v-if="!t.is_ours" class="own"> · your own</span>
        </button>
      </div>
    </nav>
    <form class="editor" aria-label="What it says" @submit.prevent="save">
      <v-text-field
        v-if="one.channel === 'mail'"
        v-model="subject"
        label="Subject"
        maxlength="300"
        :error-messages="fault('subject')"
      />
      <v-textarea v-model="body" label="Text" rows="13" auto-grow :error-messages="fault('body')" />
      <p class="soft hint">
        Words in braces are filled in; a line whose words are all empty is left out. It knows:
        <span v-for="w in settings.words[one.kind]" :key="w.word" class="word">
          <code>{{ braced(w.word) }}</code> {{ w.meaning }}</span
        >
      </p>
      <ProblemNote v-if="!problem?.field" :problem="problem" />
      <div class="acts">
        <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !isChanged">Save</v-btn>
        <v-btn v-if="!one.is_ours" variant="text" :disabled="isBusy" @click="ours">Back to our words</v-btn>
      </div>
    </form>
    <section class="shown" aria-label="As it arrives">
      <p class="soft">As it arrives, with names that nobody has</p>
      <p v-if="unclear" class="unclear" role="status">{{ unclear.message }}</p>
      <article v-if="preview" :class="one.channel">
        <p v-if="one.channel === 'mail'" class="subject">{{ preview.subject }}</p>
        <pre>{{ preview.plain }}</pre>
      </article>
      <p v-if="preview?.parts" class="soft">
        {{
          preview.parts === 1 ? 'One text message' : `${preview.parts} text messages, and charged as such`
        }}.
      </p>
    </section>
  </div>
</template>

<style scoped>
.words {
  display: grid;
  grid-template-columns: 230px minmax(0, 1fr) minmax(0, 0.9fr);
  gap: 20px 32px;
}
.group {
  padding: 8px 0;
  border-top: 1px solid rgb(var(--v-theme-hair));
}
.title {
  display: block;
  font-weight: 700;
  font-size: 14.5px;
}
.title::first-letter {
  text-transform: uppercase;
}
.lang {
  padding: 2px 0;
  margin-right: 16px;
  text-decoration: underline;
}
.lang.on {
  text-decoration: none;
  font-weight: 700;
  box-shadow: 0 2px rgb(var(--v-theme-primary));
}
.own {
  color: rgb(var(--v-theme-soft));
  font-weight: 400;
}
.editor {
  display: grid;
  gap: 12px;
  align-content: start;
}
.hint {
  font-size: 13.5px;
  margin: 0;
}
.word {
  display: block;
}
article {
  border-left: 3px solid rgb(var(--v-theme-hair));
  padding: 10px 18px;
  background: rgb(var(--v-theme-surface));
}
article.text {
  border-radius: 0 14px 14px 14px;
  max-width: 24em;
}
.subject {
  font-weight: 700;
  margin: 0 0 10px;
  padding-bottom: 8px;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
pre {
  font: inherit;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
  margin: 0;
}
.unclear {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
}
@media (max-width: 1000px) {
  .words {
    grid-template-columns: 1fr;
  }
}
</style>
