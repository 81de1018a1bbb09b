<script setup lang="ts">
// Machines that are told of what happens: syslog servers and webhooks.
import { ref } from 'vue'

import { api, got, type Settings, type Syslog, type Tried, type Webhook } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReceiverForm from './ReceiverForm.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ settings: Settings }>()
const emit = defineEmits<{ saved: [] }>()
const { isBusy, problem, act } = useAct()
type Kind = 'syslog' | 'webhooks'
const editing = ref<{ kind: Kind; one: Syslog | Webhook | null } | null>(null)
const tried = ref<Record<number, Tried>>({})
const secret = ref<string | null>(null)

const hears = (one: Syslog | Webhook) => {
  const said = (one.hears ?? []).map(
    (kind) => props.settings.heard.find((h) => h.word === kind)?.meaning ?? kind,
  )
  return said.length ? `hears of ${said.join(', ')}` : 'hears of nothing yet'
}
const where = (one: Syslog) =>
  `syslog over ${(one.transport ?? 'tls').toUpperCase()} to ${one.host}, port ${one.port}`
async function test(one: Syslog | Webhook): Promise<void> {
  const came = await act(() =>
    got(api.POST('/api/receivers/{receiver}/test', { params: { path: { receiver: one.id } } })),
  )
  if (came) tried.value = { ...tried.value, [one.id]: came }
}
function saved(made: string | null): void {
  secret.value = made
  editing.value = null
  emit('saved')
}
</script>

<template>
  <section>
    <h2>
      Machines that are told
      <button class="change changes" @click="editing = { kind: 'syslog', one: null }">
        add a syslog server
      </button>
      <button class="change changes" @click="editing = { kind: 'webhooks', one: null }">add a webhook</button>
    </h2>
    <p v-if="!settings.syslog.length && !settings.webhooks.length && !editing" class="said soft">
      None. A syslog server gets a line, a webhook a signed call, of each thing that it is to hear of.
    </p>
    <p v-if="secret" class="made" role="status">
      The secret of the webhook is <b class="mono">{{ secret }}</b>. It is shown this once: with it the other
      side checks that a call is ours.
    </p>
    <ProblemNote :problem="problem" />
    <div v-for="one in [...settings.syslog, ...settings.webhooks]" :key="one.id" class="one">
      <b>{{ one.name }}</b>
      <span>{{ 'url' in one ? `webhook at ${one.url}` : where(one) }}; {{ hears(one) }}</span>
      <button class="change changes" @click="editing = { kind: 'url' in one ? 'webhooks' : 'syslog', one }">
        change
      </button>
      <button class="change changes" :disabled="isBusy" :aria-label="`Test ${one.name}`" @click="test(one)">
        test
      </button>
      <span v-if="tried[one.id]" class="soft" role="status">
        {{ tried[one.id]?.is_sent ? 'It was sent.' : 'It was not sent.' }} {{ tried[one.id]?.answer }}
      </span>
    </div>
    <ReceiverForm
      v-if="editing"
      :key="`${editing.kind}${editing.one?.id ?? 0}`"
      :kind="editing.kind"
      :one="editing.one"
      :heard="settings.heard"
      @saved="saved"
      @close="editing = null"
    />
  </section>
</template>

<style scoped>
section {
  border-top: 1px solid rgb(var(--v-theme-hair));
  padding: 14px 0 18px;
}
.said {
  max-width: 68em;
  margin: 4px 0 0;
}
.one {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  padding: 6px 0;
  overflow-wrap: anywhere;
}
.made {
  border-left: 4px solid rgb(var(--v-theme-inside));
  padding: 4px 12px;
  overflow-wrap: anywhere;
}
.change {
  text-decoration: underline;
  color: rgb(var(--v-theme-primary));
  font-weight: 400;
  font-size: 14px;
}
h2 .change {
  margin-left: 10px;
}
</style>
