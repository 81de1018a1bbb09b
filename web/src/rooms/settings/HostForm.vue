<script setup lang="ts">
// One host: who, and what they may give.
import { ref } from 'vue'

import { api, got, type Host, type Networks } from '../../api/client'
import LengthField from '../../parts/LengthField.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ host: Host | null; setup: Networks }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const LANGS = [
  { value: 'en', title: 'English' },
  { value: 'de', title: 'German' },
]
const h = props.host
const name = ref(h?.name ?? '')
const mail = ref(h?.mail ?? '')
const department = ref(h?.department ?? '')
const lang = ref(h?.lang ?? 'en')
const networks = ref<number[]>([...(h?.networks ?? [])])
const plans = ref<number[]>([...(h?.plans ?? [])])
const longest = ref(h?.longest_minutes ?? null)
const atOnce = ref(h?.at_once ? String(h.at_once) : '')

async function save(): Promise<void> {
  const wanted = {
    name: name.value,
    mail: mail.value,
    department: department.value,
    lang: lang.value,
    networks: networks.value,
    plans: plans.value,
    longest_minutes: longest.value,
    at_once: atOnce.value.trim() ? Number(atOnce.value) : null,
  }
  const saved = await act(() =>
    h
      ? got(api.PUT('/api/hosts/{host}', { params: { path: { host: h.id } }, body: wanted }))
      : got(api.POST('/api/hosts', { body: wanted })),
  )
  if (saved) emit('saved')
}
</script>

<template>
  <form :aria-label="h ? `Host ${h.name}` : 'A new host'" @submit.prevent="save">
    <div class="fields">
      <v-text-field
        v-model="name"
        label="Name, as guests know it"
        maxlength="60"
        required
        :error-messages="fault('name')"
      />
      <v-text-field
        v-model="mail"
        type="email"
        label="Mail address"
        maxlength="254"
        required
        :error-messages="fault('mail')"
      />
      <v-text-field
        v-model="department"
        label="Department, shown beside the name"
        maxlength="60"
        :error-messages="fault('department')"
      />
      <v-select v-model="lang" :items="LANGS" label="Is written to in" />
    </div>
    <div class="fields">
      <v-select
        v-model="networks"
        :items="setup.networks"
        item-title="name"
        item-value="id"
        multiple
        label="May vouch on"
        placeholder="every network that asks for hosts"
        persistent-placeholder
        :error-messages="fault('networks')"
      />
      <v-select
        v-model="plans"
        :items="setup.plans"
        item-title="name"
        item-value="id"
        multiple
        label="May give"
        placeholder="what the way in gives"
        persistent-placeholder
        :error-messages="fault('plans')"
      />
      <LengthField
        v-model="longest"
        label="For at most"
        name="longest_minutes"
        none="as long as the plan"
        :problem="problem"
      />
      <v-text-field
        v-model="atOnce"
        label="Guests at once"
        placeholder="any number"
        persistent-placeholder
        inputmode="numeric"
        :error-messages="fault('at_once')"
      />
    </div>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy">
        {{ h ? 'Save' : 'Add' }}
      </v-btn>
      <v-btn size="small" variant="text" @click="emit('close')">Back</v-btn>
      <RemoveButton
        v-if="h"
        :remove="() => api.DELETE('/api/hosts/{host}', { params: { path: { host: h!.id } } })"
        label="Take off the list"
        @removed="emit('saved')"
      />
      <span v-if="h" class="soft">Whom they vouched for stays in.</span>
    </div>
  </form>
</template>

<style scoped>
.acts {
  margin-bottom: 14px;
}
</style>
