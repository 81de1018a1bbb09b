<script setup lang="ts">
// How one make of access device talks: how guests arrive at the page, how it learns of a login, what it carries out.
import { computed, ref } from 'vue'

import { call, type Dialect, type Paths } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import CallFields from './CallFields.vue'
import FieldRow from '../../parts/FieldRow.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ dialect: Dialect | null; paths: Paths }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act } = useAct()
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
  says_user: start?.says_user ?? false,
  counts: start?.counts ?? true,
  remembers_s: start?.remembers_s ?? 35,
})
const sharedPassword = ref('')
const callSecret = ref('')
const ARRIVES = [
  ['handed_out', 'handed out: our signed address in an attribute of the answer'],
  ['appended', 'appended: the device adds who the guest is to one fixed address'],
  ['plain', 'plain: guests open the short address themselves'],
] as const
const MOVES = [
  ['attributes', 'new attributes in a CoA'],
  ['reauthorise', 're-authorisation'],
  ['disconnect', 'a disconnect'],
  ['posted', 'posted by the guest’s browser'],
  ['called', 'a call to a controller'],
] as const
const HONOURS = [
  ['vlan', 'VLAN'],
  ['filter_name', 'filter name'],
  ['filter_rules', 'filter rules'],
  ['session_timeout', 'Session-Timeout'],
  ['idle_timeout', 'Idle-Timeout'],
] as const
const IDENTIFY = [
  ['calling_station_id', 'Calling-Station-Id'],
  ['nas_ip_address', 'NAS-IP-Address'],
  ['framed_ip_address', 'Framed-IP-Address'],
] as const
const calls = computed(() => [form.value.login_move, form.value.end_move].includes('called'))
const words = computed(() => Object.entries(props.paths.words))

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
  const path = start ? `/api/dialects/${start.id}` : '/api/dialects'
  if (await act(() => call<Dialect>(start ? 'PUT' : 'POST', path, body))) emit('saved')
}
</script>

<template>
  <form aria-label="Dialect" @submit.prevent="save">
    <div class="columns">
      <div>
        <FieldRow label="Name" name="name" :problem="problem"
          ><input v-model="form.name" required maxlength="60"
        /></FieldRow>
        <FieldRow label="How guests arrive at the page"
          ><select v-model="form.arrives">
            <option v-for="[v, w] in ARRIVES" :key="v" :value="v">{{ w }}</option>
          </select></FieldRow
        >
        <div v-if="form.arrives === 'appended'" class="pair">
          <FieldRow label="It appends the MAC as" name="appended" :problem="problem"
            ><input v-model="form.appended.mac" class="mono"
          /></FieldRow>
          <FieldRow label="and where they were going as"
            ><input v-model="form.appended.going" class="mono"
          /></FieldRow>
        </div>
        <FieldRow label="It learns of a login by"
          ><select v-model="form.login_move">
            <option v-for="[v, w] in MOVES" :key="v" :value="v">{{ w }}</option>
          </select></FieldRow
        >
        <FieldRow label="and of an end by" name="end_move" :problem="problem"
          ><select v-model="form.end_move">
            <option v-for="[v, w] in MOVES.filter(([m]) => m !== 'posted')" :key="v" :value="v">
              {{ w }}
            </option>
          </select></FieldRow
        >
        <template v-if="form.login_move === 'posted'">
          <FieldRow label="Its own login address" name="posted" :problem="problem"
            ><input v-model="form.posted.url" class="mono" placeholder="http://192.0.2.1/login"
          /></FieldRow>
          <div class="pair">
            <FieldRow label="Field of the name"
              ><input v-model="form.posted.name_field" class="mono"
            /></FieldRow>
            <FieldRow label="Field of the secret"
              ><input v-model="form.posted.secret_field" class="mono"
            /></FieldRow>
          </div>
        </template>
      </div>
      <div>
        <fieldset>
          <legend>It carries out</legend>
          <label v-for="[v, w] in HONOURS" :key="v" class="tick"
            ><input v-model="form.honours" type="checkbox" :value="v" /> {{ w }}</label
          >
        </fieldset>
        <fieldset>
          <legend>A change names, besides the session</legend>
          <label v-for="[v, w] in IDENTIFY" :key="v" class="tick"
            ><input v-model="form.identify" type="checkbox" :value="v" /> {{ w }}</label
          >
        </fieldset>
        <fieldset>
          <legend>Habits</legend>
          <label class="tick"><input v-model="form.counts" type="checkbox" /> its accounting counts</label>
          <label class="tick"
            ><input v-model="form.signs_changes" type="checkbox" /> changes are signed</label
          >
          <label class="tick"
            ><input v-model="form.ack_confirms" type="checkbox" /> an ACK to new attributes means that they
            hold</label
          >
          <label class="tick"
            ><input v-model="form.timeout_from_start" type="checkbox" /> time-outs in a CoA count from the
            session’s start</label
          >
          <label class="tick"
            ><input v-model="form.says_user" type="checkbox" /> User-Name in the answer: a pseudonym</label
          >
        </fieldset>
      </div>
      <div>
        <div class="pair">
          <FieldRow label="Pause before a change, ms">
            <input v-model.number="form.pause_ms" type="number" min="0" max="10000" />
          </FieldRow>
          <FieldRow label="Remembers answers, s">
            <input v-model.number="form.remembers_s" type="number" min="0" max="600" />
          </FieldRow>
        </div>
        <FieldRow label="Tag of the VLAN" name="group_tag" :problem="problem">
          <select v-model="form.group_tag">
            <option :value="null">none</option>
            <option v-for="n in 32" :key="n" :value="n - 1">{{ n - 1 }}</option>
          </select>
        </FieldRow>
        <FieldRow
          label="Password of its MAC requests"
          :hint="
            start?.has_shared_password ? 'One is set; empty leaves it.' : 'Empty: the MAC address itself.'
          "
          ><input v-model="sharedPassword" class="mono" autocomplete="off"
        /></FieldRow>
        <FieldRow
          v-if="calls"
          label="Secret of its calls, the word {secret}"
          :hint="start?.has_call_secret ? 'One is set; empty leaves it.' : ''"
          ><input v-model="callSecret" class="mono" autocomplete="off"
        /></FieldRow>
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
        <label>Enterprise<input v-model.number="one.enterprise" type="number" min="1" /></label>
        <label>Number<input v-model.number="one.number" type="number" min="1" max="255" /></label>
        <label
          >Kind<select v-model="one.kind">
            <option>text</option>
            <option>integer</option>
            <option>address</option>
            <option>bytes</option>
          </select></label
        >
        <label
          >When<select v-model="one.when">
            <option value="door">at the door</option>
            <option value="inside">inside</option>
            <option value="always">always</option>
          </select></label
        >
        <label class="wide">Template<input v-model="one.template" class="mono" /></label>
        <v-btn size="x-small" @click="form.attributes.splice(n, 1)">Remove</v-btn>
      </div>
      <v-btn size="small" @click="addAttribute">Add an attribute</v-btn>
      <details class="words">
        <summary>Words of templates</summary>
        <dl>
          <template v-for="[word, meaning] in words" :key="word"
            ><dt class="mono">{{ `{${word}\}` }}</dt>
            <dd>{{ meaning }}</dd></template
          >
        </dl>
      </details>
    </section>
    <ProblemNote
      v-if="
        problem &&
        !['name', 'appended', 'end_move', 'posted', 'group_tag', 'call_in', 'call_out'].includes(
          problem.field ?? '',
        )
      "
      :problem="problem"
    />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ start ? 'Save' : 'Add dialect' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="start"
        :path="`/api/dialects/${start.id}`"
        label="Remove dialect"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 1.3fr 1fr 0.9fr;
  gap: 0 30px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
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
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 14.5px;
  padding: 2px 0;
}
.vendor {
  display: flex;
  gap: 10px;
  align-items: end;
  margin-bottom: 8px;
  flex-wrap: wrap;
}
.vendor label {
  font-size: 13px;
  color: rgb(var(--v-theme-soft));
}
.vendor input,
.vendor select {
  display: block;
  color: rgb(var(--v-theme-on-background));
  min-height: 32px;
  padding: 3px 8px;
  width: 100px;
  border: 1.5px solid rgb(var(--v-theme-hair));
  border-radius: 7px;
}
.vendor .wide {
  flex: 1;
}
.vendor .wide input {
  width: 100%;
}
.words {
  font-size: 14px;
  margin: 10px 0;
}
.words summary {
  cursor: pointer;
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
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 14px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
