<script setup lang="ts">
// Who may vouch for guests: one by one, or as a list.
import { onMounted, ref } from 'vue'

import { call, type Host, type HostsTaken, type Paths } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import HostForm from './HostForm.vue'
import { useAct } from '../../use/useAct'

defineProps<{ hasMail: boolean }>()
const { isBusy, problem, act, read } = useAct()
const hosts = ref<Host[]>([])
const paths = ref<Paths | null>(null)
const editing = ref<Host | 'new' | null>(null)
const showsLines = ref(false)
const lines = ref('')
const taken = ref<HostsTaken | null>(null)
const sentTo = ref('')

async function load(): Promise<void> {
  hosts.value = (await read(() => call<Host[]>('GET', '/api/hosts'))) ?? hosts.value
}
onMounted(async () => {
  await load()
  paths.value = (await read(() => call<Paths>('GET', '/api/paths'))) ?? null
})
async function saved(): Promise<void> {
  editing.value = null
  await load()
}
async function takeLines(): Promise<void> {
  taken.value = (await act(() => call<HostsTaken>('POST', '/api/hosts/lines', { text: lines.value }))) ?? null
  if (!taken.value) return
  lines.value = taken.value.bad.map((bad) => bad.text).join('\n')
  await load()
}
async function readFile(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) lines.value = await file.text()
}
async function sendPage(host: Host): Promise<void> {
  sentTo.value = ''
  if (await act(() => call('POST', `/api/hosts/${host.id}/page`).then(() => true))) sentTo.value = host.name
}
</script>

<template>
  <section aria-label="Hosts">
    <div class="row">
      <h2>Hosts</h2>
      <v-btn size="x-small" aria-label="Add a host" @click="editing = 'new'">Add</v-btn>
      <v-btn size="x-small" variant="text" @click="showsLines = !showsLines">From a list</v-btn>
      <a v-if="hosts.length" class="csv" href="/api/hosts.csv">As CSV</a>
    </div>
    <p class="soft says">
      People of the house who say yes or no to a guest who names them, by a link in a mail; they need no
      account. Where they are asked is set in Paths, stage <i>is asked</i>.
    </p>
    <p v-if="!hasMail" class="note">
      No mail server is set, so nobody can be asked. Its place is in <i>Mail and text</i>.
    </p>
    <HostForm
      v-if="editing && paths"
      :key="editing === 'new' ? 0 : editing.id"
      :host="editing === 'new' ? null : editing"
      :paths="paths"
      @saved="saved"
      @close="editing = null"
    />
    <form v-if="showsLines" class="lines" aria-label="A list of hosts" @submit.prevent="takeLines">
      <v-textarea
        v-model="lines"
        class="mono"
        rows="5"
        label="Name, mail, department, language, networks, plans, longest minutes, guests at once"
        placeholder="Ada Lindqvist; ada.lindqvist@hollerau.example; Strings; en; Ensemble; Course week; ; 12"
        persistent-placeholder
      />
      <p class="soft says">
        The first two are needed. A bar stands between several networks or plans. A line whose address is
        there already changes that host.
      </p>
      <p v-if="taken" role="status">
        {{ taken.added }} added, {{ taken.changed }} changed{{
          taken.bad.length ? `; ${taken.bad.length} could not be read and stand above:` : '.'
        }}
      </p>
      <ul v-if="taken?.bad.length" class="bad">
        <li v-for="bad in taken.bad" :key="bad.number">{{ bad.text }}: {{ bad.why }}</li>
      </ul>
      <div class="row">
        <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy || !lines.trim()">
          Take them in
        </v-btn>
        <label class="file"
          >or choose a file <input type="file" accept=".csv,text/*" @change="readFile"
        /></label>
        <v-btn size="small" variant="text" @click="showsLines = false">Back</v-btn>
      </div>
    </form>
    <ProblemNote :problem="problem" />
    <p v-if="sentTo" role="status">The link to their own page is on its way to {{ sentTo }}.</p>
    <table v-if="hosts.length" class="list">
      <thead>
        <tr>
          <th>Name</th>
          <th>Mail</th>
          <th>May give</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="host in hosts" :key="host.id">
          <td>
            <button class="name" @click="editing = host">{{ host.name }}</button>
            <span v-if="host.department" class="soft department">{{ host.department }}</span>
          </td>
          <td class="soft">{{ host.mail }}</td>
          <td class="wide">{{ host.sentence }}</td>
          <td class="acts">
            <v-btn
              size="x-small"
              variant="text"
              :disabled="isBusy || !hasMail"
              title="Their guests, and what can be done about each; the link before leads nowhere any more"
              :aria-label="`Send their page to ${host.name}`"
              @click="sendPage(host)"
            >
              Send their page
            </v-btn>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="empty">Nobody yet. Add one, or take in a list of lines or a CSV.</p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
}
.says {
  max-width: 68em;
  margin: 4px 0 10px;
}
.note {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  margin: 8px 0;
}
.name {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.department {
  margin-left: 10px;
}
.wide {
  white-space: normal !important;
}
.acts {
  text-align: right;
}
.lines {
  margin: 10px 0;
}
.bad {
  list-style: none;
  padding: 0;
  color: rgb(var(--v-theme-error));
}
.csv,
.file {
  font-size: 14px;
}
</style>
