<script setup lang="ts">
// Who may vouch for guests: one by one, or as a list.
import { onMounted, ref } from 'vue'

import { api, got, type Host, type Networks } from '../../api/client'
import LinesForm from '../../parts/LinesForm.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import HostForm from './HostForm.vue'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'

defineProps<{ hasMail: boolean }>()
const { isBusy, problem, act, read } = useAct()
const reading = useReading(() => got(api.GET('/api/hosts')))
const { found: hosts, load } = reading
const setup = ref<Networks | null>(null)
const editing = ref<Host | 'new' | null>(null)
const showsLines = ref(false)
const sentTo = ref('')

onMounted(async () => {
  await load()
  setup.value = (await read(() => got(api.GET('/api/networks')))) ?? null
})
async function saved(): Promise<void> {
  editing.value = null
  await load()
}
async function sendPage(host: Host): Promise<void> {
  sentTo.value = ''
  if (
    await act(() =>
      got(api.POST('/api/hosts/{host}/page', { params: { path: { host: host.id } } })).then(() => true),
    )
  )
    sentTo.value = host.name
}
</script>

<template>
  <section aria-label="Hosts">
    <div class="row">
      <h2>Hosts</h2>
      <v-btn class="changes" size="x-small" aria-label="Add a host" @click="editing = 'new'">Add</v-btn>
      <v-btn class="changes" size="x-small" variant="text" @click="showsLines = !showsLines"
        >From a list</v-btn
      >
      <a v-if="hosts?.length" class="csv" href="/api/hosts.csv">As CSV</a>
    </div>
    <p class="soft says">
      People of the house who say yes or no to a guest who names them, by a link in a mail; they need no
      account. Where they are asked is set in Networks, stage <i>is asked</i>.
    </p>
    <p v-if="!hasMail" class="note">
      No mail server is set, so nobody can be asked. Its place is in <i>Mail and text</i>.
    </p>
    <HostForm
      v-if="editing && setup"
      :key="editing === 'new' ? 0 : editing.id"
      :host="editing === 'new' ? null : editing"
      :setup="setup"
      @saved="saved"
      @close="editing = null"
    />
    <LinesForm
      v-if="showsLines"
      :take="(text) => got(api.POST('/api/hosts/lines', { body: { text } }))"
      name="A list of hosts"
      label="Name, mail, department, language, networks, plans, longest minutes, guests at once"
      example="Ada Lindqvist; ada.lindqvist@hollerau.example; Strings; en; Ensemble; Course week; ; 12"
      @taken="load"
      @close="showsLines = false"
    >
      <p class="soft says">
        The first two are needed. A bar stands between several networks or plans. A line whose address is
        there already changes that host.
      </p>
    </LinesForm>
    <ProblemNote :problem="problem" />
    <p v-if="sentTo" role="status">The link to their own page is on its way to {{ sentTo }}.</p>
    <ReadingState :of="reading" />
    <table v-if="hosts?.length" class="list">
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
              class="changes"
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
    <p v-else-if="hosts" class="empty">Nobody yet. Add one, or take in a list of lines or a CSV.</p>
  </section>
</template>

<style scoped>
.says {
  max-width: 68em;
  margin: 4px 0 10px;
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
</style>
