<script setup lang="ts">
// A host vouches: how guests name one, what hosts read, how long they have, and who is asked then.
import { computed, onMounted, ref } from 'vue'

import { api, got, type Host, type SponsorWay } from '../../../api/client'
import { useAct } from '../../../use/useAct'
import QuestionFields from './QuestionFields.vue'

const way = defineModel<SponsorWay>({ required: true })
const props = defineProps<{
  plans: { title: string; value: number }[]
  network: number
  faults: string[]
}>()
const { read } = useAct()
const hosts = ref<Host[]>([])
const MOST_LISTED = 150
const NAMING = [
  { value: 'list', title: 'choose from the list of hosts' },
  { value: 'name', title: 'type a name' },
  { value: 'domain', title: 'type a mail address of the house' },
]
const SAYS: Record<string, string> = {
  list: 'Everybody at the page reads the names of your hosts.',
  name: 'Nobody is told whether there is such a host: the page answers alike. Who is not found is shown at the desk.',
  domain: 'Whoever has an address there can be asked, on the list or not, and gives what stands here.',
}
const here = computed(() =>
  hosts.value.filter((one) => !one.networks?.length || one.networks.includes(props.network)),
)
const standIns = computed(() => [
  { title: 'nobody: then it is over', value: null },
  ...hosts.value.map((one) => ({ title: one.name, value: one.id })),
])
const domains = computed({
  get: () => (way.value.domains ?? []).join(', '),
  set: (text: string) => (way.value.domains = text.split(/[\s,;]+/).filter(Boolean)),
})
onMounted(async () => {
  hosts.value = (await read(() => got(api.GET('/api/hosts')))) ?? []
})
</script>

<template>
  <div class="settings">
    <v-select v-model="way.plan" :items="plans" label="What a host gives" />
    <v-select v-model="way.naming" :items="NAMING" label="To name their host, guests" />
    <v-text-field
      v-if="way.naming === 'domain'"
      v-model.lazy="domains"
      label="What stands after the @"
      placeholder="hollerau.example"
      persistent-placeholder
    />
  </div>
  <p class="says">{{ SAYS[way.naming ?? 'list'] }}</p>
  <p v-if="way.naming !== 'domain' && !here.length" class="note">
    Nobody may vouch here yet, so guests are not shown this way in. The list of hosts is in
    <router-link to="/settings?part=hosts">Settings</router-link>.
  </p>
  <p v-if="way.naming === 'list' && here.length > MOST_LISTED" class="note">
    {{ here.length }} hosts may vouch here, too many to look through on a phone: guests type a name instead.
  </p>
  <div class="settings">
    <v-text-field
      v-model.number="way.wait_minutes"
      label="A host has"
      suffix="min to answer"
      inputmode="numeric"
    />
    <v-text-field
      v-model.number="way.remind_minutes"
      label="Is reminded after"
      suffix="min (0: never)"
      inputmode="numeric"
    />
    <v-select v-model="way.stand_in" :items="standIns" label="When nobody answered, asked is" />
  </div>
  <p class="says">
    What hosts read about the guest. Where a mail address is asked, the code is sent there too.
  </p>
  <QuestionFields v-model="way.fields" />
  <v-checkbox
    v-model="way.asks_consent"
    label="A box for being written to, never ticked before: its words are in Settings, Privacy"
  />
  <p v-for="text in faults" :key="text" class="note" role="alert">{{ text }}</p>
</template>

<style scoped>
.settings {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 280px));
  gap: 16px;
  padding: 10px 0 4px;
}
@media (max-width: 800px) {
  .settings {
    grid-template-columns: 1fr;
  }
}
</style>
