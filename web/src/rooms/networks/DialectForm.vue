<script setup lang="ts">
// How one make of access device talks: how guests arrive at the page, how it learns of a login, what it carries out.
import { computed, ref } from 'vue'

import { api, got, type Dialect, type Networks } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import KeysAsked from './KeysAsked.vue'
import CallFields from '../../parts/CallFields.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ dialect: Dialect | null; setup: Networks }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const blankCall = () => ({
  method: 'POST',
  url: '',
  headers: [] as [string, string][],
  body: '',
  good_status: [200, 201, 202, 204],
  good_text: '',
})
const start = props.dialect
const copy = <T,>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const form = ref({
  name: start?.name ?? '',
  arrives: start?.arrives ?? 'handed_out',
  appended: copy(start?.appended ?? { mac: 'mac', going: 'url' }),
  attributes: copy(start?.attributes ?? []),
  login_move: start?.login_move ?? 'disconnect',
  end_move: start?.end_move ?? 'disconnect',
  pause_ms: start?.pause_ms ?? 500,
  posted: copy(start?.posted ?? { url: '', name_field: 'username', secret_field: 'password', others: [] }),
  call_in: copy(start?.call_in ?? blankCall()),
  call_out: copy(start?.call_out ?? blankCall()),
  honours: [...(start?.honours ?? ['vlan', 'filter_name', 'session_timeout', 'idle_timeout'])],
  group_tag: start ? (start.group_tag ?? null) : 0,
  identify: [...(start?.identify ?? [])],
  signs_changes: start?.signs_changes ?? true,
  timeout_from_start: start?.timeout_from_start ?? false,
  ack_confirms: start?.ack_confirms ?? true,
  user_name: start?.user_name ?? 'nothing',
  counts: start?.counts ?? true,
  remembers_s: start?.remembers_s ?? 35,
  keys_by: start?.keys_by ?? 'mac',
  handshake: copy(start?.handshake ?? { enterprise: 0, nonce: 1, frame: 2 }),
})
const USER_NAMES = [
  { value: 'nothing', title: 'none', hint: 'The access device shows the MAC address alone.' },
  { value: 'pseudonym', title: 'a pseudonym', hint: 'Random, and another one with each login.' },
  {
    value: 'name',
    title: 'the guest’s name',
    hint: 'Where there is one, else a pseudonym. Whoever runs the access device reads it; never a code.',
  },
] as const
const hintOfUserName = computed(() => USER_NAMES.find((one) => one.value === form.value.user_name)?.hint)
const sharedPassword = ref('')
const callSecret = ref('')
const ARRIVES = [
  { value: 'handed_out', title: 'handed out: our signed address in an attribute of the answer' },
  { value: 'appended', title: 'appended: the device adds who the guest is to one fixed address' },
  { value: 'plain', title: 'plain: guests open the short address themselves' },
] as const
const MOVES = [
  { value: 'attributes', title: 'new attributes in a CoA' },
  { value: 'reauthorise', title: 're-authorisation' },
  { value: 'disconnect', title: 'a disconnect' },
  { value: 'posted', title: 'posted by the guest’s browser' },
  { value: 'called', title: 'a call to a controller' },
] as const
const HONOURS = [
  { value: 'vlan', title: 'VLAN' },
  { value: 'filter_name', title: 'filter name' },
  { value: 'filter_rules', title: 'filter rules' },
  { value: 'session_timeout', title: 'Session-Timeout' },
  { value: 'idle_timeout', title: 'Idle-Timeout' },
] as const
const IDENTIFY = [
  { value: 'calling_station_id', title: 'Calling-Station-Id' },
  { value: 'nas_ip_address', title: 'NAS-IP-Address' },
  { value: 'framed_ip_address', title: 'Framed-IP-Address' },
] as const
const KINDS = ['text', 'integer', 'address', 'bytes']
const WHEN = [
  { value: 'door', title: 'at the door' },
  { value: 'inside', title: 'inside' },
  { value: 'always', title: 'always' },
]
const TAGS = [
  { value: null, title: 'none' },
  ...Array.from({ length: 32 }, (_, n) => ({ value: n, title: String(n) })),
]
const calls = computed(() => [form.value.login_move, form.value.end_move].includes('called'))
const words = computed(() => Object.entries(props.setup.words))

function addAttribute(): void {
  form.value.attributes.push({
    enterprise: 32473,
    number: 1,
    kind: 'text',
    template: '{portal_url}',
    when: 'door',
  })
}

async function save(): Promise<void> {
  const body = {
    ...form.value,
    shared_password: sharedPassword.value || null,
    call_secret: callSecret.value || null,
  }
  const saved = await act(() =>
    start
      ? got(api.PUT('/api/dialects/{dialect}', { params: { path: { dialect: start.id } }, body }))
      : got(api.POST('/api/dialects', { body })),
  )
  if (saved) emit('saved')
}
</script>

<template>
  <form aria-label="Dialect" @submit.prevent="save">
    <div class="columns">
      <div class="stack">
        <v-text-field
          v-model="form.name"
          label="Name"
          required
          maxlength="60"
          :error-messages="fault('name')"
        />
        <v-select v-model="form.arrives" label="How guests arrive at the page" :items="ARRIVES" />
        <div v-if="form.arrives === 'appended'" class="pair">
          <v-text-field
            v-model="form.appended.mac"
            label="It appends the MAC as"
            class="mono"
            :error-messages="fault('appended')"
          />
          <v-text-field v-model="form.appended.going" label="and where they were going as" class="mono" />
        </div>
        <v-select v-model="form.login_move" label="It learns of a login by" :items="MOVES" />
        <v-select
          v-model="form.end_move"
          label="and of an end by"
          :items="MOVES.filter((move) => move.value !== 'posted')"
          :error-messages="fault('end_move')"
        />
        <template v-if="form.login_move === 'posted'">
          <v-text-field
            v-model="form.posted.url"
            label="Its own login address"
            class="mono"
            placeholder="http://192.0.2.1/login"
            :error-messages="fault('posted')"
          />
          <div class="pair">
            <v-text-field v-model="form.posted.name_field" label="Field of the name" class="mono" />
            <v-text-field v-model="form.posted.secret_field" label="Field of the secret" class="mono" />
          </div>
        </template>
      </div>
      <div>
        <fieldset>
          <legend>It carries out</legend>
          <v-checkbox
            v-for="one in HONOURS"
            :key="one.value"
            v-model="form.honours"
            :value="one.value"
            :label="one.title"
          />
        </fieldset>
        <fieldset>
          <legend>A change names, besides the session</legend>
          <v-checkbox
            v-for="one in IDENTIFY"
            :key="one.value"
            v-model="form.identify"
            :value="one.value"
            :label="one.title"
          />
        </fieldset>
        <fieldset>
          <legend>Habits</legend>
          <v-checkbox v-model="form.counts" label="its accounting counts" />
          <v-checkbox v-model="form.signs_changes" label="changes are signed" />
          <v-checkbox v-model="form.ack_confirms" label="an ACK to new attributes means that they hold" />
          <v-checkbox
            v-model="form.timeout_from_start"
            label="time-outs in a CoA count from the session’s start"
          />
          <v-select
            v-model="form.user_name"
            class="mt-2"
            label="User-Name in the answer"
            :items="USER_NAMES"
            :hint="hintOfUserName"
            persistent-hint
          />
        </fieldset>
      </div>
      <div class="stack">
        <div class="pair">
          <v-text-field v-model.number="form.pause_ms" label="Pause before a change" suffix="ms" />
          <v-text-field v-model.number="form.remembers_s" label="Remembers answers" suffix="s" />
        </div>
        <v-select
          v-model="form.group_tag"
          label="Tag of the VLAN"
          :items="TAGS"
          :error-messages="fault('group_tag')"
        />
        <KeysAsked
          v-model:by="form.keys_by"
          v-model:handshake="form.handshake"
          :faults="fault('handshake')"
        />
        <v-text-field
          v-model="sharedPassword"
          label="Password of its MAC requests"
          :hint="
            dialect?.has_shared_password ? 'One is set; empty leaves it.' : 'Empty: the MAC address itself.'
          "
          persistent-hint
          class="mono"
          autocomplete="off"
        />
        <v-text-field
          v-if="calls"
          v-model="callSecret"
          label="Secret of its calls, the word {secret}"
          :hint="dialect?.has_call_secret ? 'One is set; empty leaves it.' : ''"
          persistent-hint
          class="mono"
          autocomplete="off"
        />
      </div>
    </div>
    <CallFields
      v-if="form.login_move === 'called'"
      v-model="form.call_in"
      title="The call that lets a device in"
      name="call_in"
      :problem="problem"
    />
    <CallFields
      v-if="form.end_move === 'called'"
      v-model="form.call_out"
      title="The call that ends a stay"
      name="call_out"
      :problem="problem"
    />
    <section>
      <h2>Vendor attributes in its answers</h2>
      <div v-for="(one, n) in form.attributes" :key="n" class="vendor">
        <v-text-field v-model.number="one.enterprise" label="Enterprise" inputmode="numeric" />
        <v-text-field v-model.number="one.number" label="Number" inputmode="numeric" />
        <v-select v-model="one.kind" label="Kind" :items="KINDS" />
        <v-select v-model="one.when" label="When" :items="WHEN" />
        <v-text-field v-model="one.template" label="Template" class="mono template" />
        <v-btn size="small" @click="form.attributes.splice(n, 1)">Remove</v-btn>
      </div>
      <v-btn size="small" @click="addAttribute">Add an attribute</v-btn>
      <details class="words">
        <summary>Words of templates</summary>
        <dl>
          <template v-for="[word, meaning] in words" :key="word">
            <dt class="mono">{{ `{${word}\}` }}</dt>
            <dd>{{ meaning }}</dd>
          </template>
        </dl>
      </details>
    </section>
    <ProblemNote
      v-if="
        problem &&
        !['name', 'appended', 'end_move', 'posted', 'group_tag', 'handshake', 'call_in', 'call_out'].includes(
          problem.field ?? '',
        )
      "
      :problem="problem"
    />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ dialect ? 'Save' : 'Add dialect' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="dialect"
        :remove="() => api.DELETE('/api/dialects/{dialect}', { params: { path: { dialect: dialect!.id } } })"
        label="Remove dialect"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  grid-template-columns: 1.3fr 1fr 0.9fr;
}
section {
  margin-top: 16px;
}
section h2 {
  margin-bottom: 10px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 12px;
}
legend {
  font-size: 13px;
  color: rgb(var(--v-theme-soft));
  padding: 0;
}
.vendor {
  display: grid;
  grid-template-columns: 120px 100px 120px 150px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  margin-bottom: 12px;
}
.words {
  font-size: 14px;
  margin: 10px 0;
}
.words dl {
  display: grid;
  grid-template-columns: 130px 1fr;
  gap: 2px 12px;
}
.words dd {
  margin: 0;
}
.acts {
  margin-top: 14px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
  .vendor {
    grid-template-columns: 1fr 1fr;
  }
  .vendor .template {
    grid-column: 1 / -1;
  }
}
</style>
