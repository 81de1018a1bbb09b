<script setup lang="ts">
// The slip beside the composer: a picture of the very PDF, before it is issued and after; print, mail, text.
import { computed, nextTick, ref, watch } from 'vue'
import type { VTextField } from 'vuetify/components'

import { api, got, callForPicture, type Batch, type Desk, type Issued } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { sentTo, terms, type Wish } from './wish'

const props = defineProps<{
  desk: Desk
  wish: Wish | null
  /** What was just issued; null while something new is composed. */
  made: Batch | null
  password: string | null
}>()
const emit = defineEmits<{ sent: [] }>()
const PAPERS = [
  { value: null, title: 'usual paper' },
  { value: 'a4', title: 'A4, ten to a sheet' },
  { value: 'letter', title: 'Letter, ten to a sheet' },
  { value: 'roll', title: 'receipt, 80 mm' },
  { value: 'label', title: 'label, 62 mm' },
]
const LANGUAGES = [
  { value: null, title: 'usual language' },
  { value: 'en', title: 'English' },
  { value: 'de', title: 'Deutsch' },
]
const WAIT_MS = 250
const { isBusy, problem, act, read, fault } = useAct()
const paper = ref<string | null>(null)
const lang = ref<'en' | 'de' | null>(null)
const picture = ref('')
const to = ref('')
const toField = ref<VTextField | null>(null)
const only = computed<Issued | null>(() => (props.made?.size === 1 ? (props.made.issued[0] ?? null) : null))
const isAccount = computed(() => (props.made ? props.made.way : props.wish?.what) === 'account')
const query = computed(() => {
  const parts = [paper.value && `paper=${paper.value}`, lang.value && `lang=${lang.value}`].filter(Boolean)
  return parts.length ? `?${parts.join('&')}` : ''
})

let asked = 0
async function draw(mine: number): Promise<void> {
  const first = props.made?.issued[0]
  let drawn: Blob | undefined
  if (first) {
    drawn = await read(() => callForPicture('GET', `/api/issued/${first.id}/slip.png${query.value}`))
  } else if (props.wish?.plan != null) {
    const way = props.wish.what
    const said = { ...terms(props.wish), way, paper: paper.value, lang: lang.value }
    // What cannot be yet is said in the composer, not here.
    drawn = await callForPicture('POST', '/api/slips/preview', said).catch(() => undefined)
  }
  if (mine === asked && drawn) picture.value = await asData(drawn)
}
/** Pictures come from this host or from the page itself: its policy lets no others in. */
function asData(drawn: Blob): Promise<string> {
  return new Promise((resolve) => {
    const reader = new FileReader()
    reader.onload = () => resolve(String(reader.result))
    reader.readAsDataURL(drawn)
  })
}
watch(
  () => [props.wish, props.made?.id, paper.value, lang.value] as const,
  () => {
    const mine = ++asked
    if (!isAccount.value) setTimeout(() => mine === asked && void draw(mine), props.made ? 0 : WAIT_MS)
  },
  { deep: true, immediate: true },
)

function print(): void {
  if (!props.made || isAccount.value) return
  const path = only.value
    ? `/api/issued/${only.value.id}/slip.pdf`
    : `/api/batches/${props.made.id}/slips.pdf`
  window.open(path + query.value, '_blank', 'noopener')
}
async function ask(): Promise<void> {
  await nextTick()
  toField.value?.focus()
}
async function send(): Promise<void> {
  const one = only.value
  const where = sentTo(to.value, lang.value ?? 'en')
  if (!one || !where) return
  const done = await act(() =>
    got(api.POST('/api/issued/{issued}/send', { params: { path: { issued: one.id } }, body: where })),
  )
  if (!done) return
  to.value = ''
  emit('sent')
}
useKeys({ p: print, m: () => void ask(), t: () => void ask() })
</script>

<template>
  <figure>
    <figcaption class="soft">
      {{ made ? 'The slip' : 'What the guest takes along'
      }}<template v-if="(made?.size ?? wish?.count ?? 1) > 1">
        · {{ (made?.size ?? wish?.count)?.toLocaleString('en') }} of these</template
      >
    </figcaption>
    <div v-if="isAccount" class="account">
      <p>
        <b>{{ desk.site }}</b>
      </p>
      <p v-if="made?.label ?? wish?.label">for {{ made?.label ?? wish?.label }}</p>
      <p class="mono code">{{ only?.code ?? (wish?.name || 'name') }}</p>
      <p class="mono code">{{ password ?? 'password' }}</p>
      <p v-if="only">
        {{
          password
            ? 'Shown this once: write it down, or let the guest take a picture.'
            : 'Its password was shown once.'
        }}
      </p>
    </div>
    <img
      v-else-if="picture"
      :src="picture"
      class="slip"
      :alt="only ? `Slip of ${only.code}` : made ? 'The first of the slips' : 'The slip to come'"
    />
    <div v-else class="slip open"></div>
  </figure>
  <template v-if="!isAccount">
    <div class="row kinds">
      <v-select v-model="paper" label="On" :items="PAPERS" />
      <v-select v-model="lang" label="In" :items="LANGUAGES" />
    </div>
    <div v-if="made" class="row">
      <v-btn variant="flat" color="primary" @click="print"
        >Print {{ made.size === 1 ? 'the slip' : `${made.size.toLocaleString('en')} slips`
        }}<kbd>p</kbd></v-btn
      >
    </div>
  </template>
  <form
    v-if="only && desk.sends.length && !isAccount"
    class="row send"
    aria-label="Send it"
    @submit.prevent="send"
  >
    <v-text-field
      ref="toField"
      v-model="to"
      :label="desk.sends.length === 2 ? 'Mail or phone' : 'Send it to'"
      maxlength="254"
      autocomplete="off"
      :error-messages="fault('to')"
    />
    <v-btn type="submit" :disabled="isBusy || !to.trim()">Send<kbd>m</kbd><kbd>t</kbd></v-btn>
  </form>
  <p v-if="only?.sent" class="soft">
    {{
      only.sent.state === 'sent'
        ? `Sent to ${only.sent.to}.`
        : only.sent.state === 'failed'
          ? `Could not be sent to ${only.sent.to}: ${only.sent.answer}`
          : `On its way to ${only.sent.to}.`
    }}
  </p>
  <ProblemNote v-if="!problem?.field" :problem="problem" />
</template>

<style scoped>
figure {
  margin: 0;
}
figcaption {
  font-size: 14px;
  margin-bottom: 8px;
}
.slip {
  display: block;
  width: 100%;
  max-height: 480px;
  object-fit: contain;
  background: #fff;
  border: 1px dashed #b9b0a5;
}
.open {
  aspect-ratio: 95 / 55;
}
.account {
  background: #fff;
  color: #17121a;
  padding: 14px 20px;
  border: 1px dashed #b9b0a5;
}
.account p {
  margin: 6px 0;
  font-size: 14px;
}
.account .code {
  font-size: 24px;
  font-weight: 700;
  overflow-wrap: anywhere;
}
.kinds {
  display: grid;
  grid-template-columns: 1fr 1fr;
  margin-top: 14px;
}
.row {
  margin-top: 12px;
}
.send {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: start;
}
</style>
