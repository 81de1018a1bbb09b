<script setup lang="ts">
// One of those that are let in always: what it is, what it is called, and where it is placed.
import { computed, ref } from 'vue'

import { api, got, type Networks, type Trusted } from '../../../api/client'
import ProblemNote from '../../../parts/ProblemNote.vue'
import RemoveButton from '../../../parts/RemoveButton.vue'
import { useAct } from '../../../use/useAct'

const props = defineProps<{ trusted: Trusted | null; setup: Networks }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const KINDS = [
  { value: 'device', title: 'a device, by its MAC address' },
  { value: 'port', title: 'whatever is at a wired port' },
  { value: 'access_device', title: 'everything at an access device' },
]
const t = props.trusted
const kind = ref(!t || t.mac ? 'device' : t.port ? 'port' : 'access_device')
const name = ref(t?.name ?? '')
const mac = ref(t?.mac ?? '')
const port = ref(t?.port ?? '')
const device = ref(t?.access_device ?? props.setup.devices[0]?.id ?? null)
const role = ref<number | null>(t?.role ?? null)
const roles = computed(() => [
  { value: null, title: 'as the rules say' },
  ...props.setup.roles.filter((one) => !one.is_door).map((one) => ({ value: one.id, title: one.name })),
])

async function save(): Promise<void> {
  const wanted = {
    name: name.value,
    role: role.value,
    mac: kind.value === 'device' ? mac.value : null,
    access_device: kind.value === 'device' ? null : device.value,
    port: kind.value === 'port' ? port.value : null,
  }
  const saved = await act(() =>
    t
      ? got(api.PUT('/api/trusted/{trusted}', { params: { path: { trusted: t.id } }, body: wanted }))
      : got(api.POST('/api/trusted', { body: wanted })),
  )
  if (saved) emit('saved')
}
</script>

<template>
  <form aria-label="Let in always" @submit.prevent="save">
    <div class="fields">
      <v-select v-model="kind" :items="KINDS" label="What" :disabled="!!t" />
      <v-text-field v-model="name" label="Name" maxlength="60" required :error-messages="fault('name')" />
      <v-text-field
        v-if="kind === 'device'"
        v-model="mac"
        class="mono"
        label="MAC address"
        maxlength="40"
        required
        :disabled="!!t"
        :error-messages="fault('mac')"
      />
      <v-select
        v-else
        v-model="device"
        :items="setup.devices"
        item-title="name"
        item-value="id"
        label="Access device"
        :disabled="!!t"
        :error-messages="fault('access_device')"
      />
      <v-text-field
        v-if="kind === 'port'"
        v-model="port"
        class="mono"
        label="Port, as it writes NAS-Port-Id"
        maxlength="253"
        required
        :disabled="!!t"
        :error-messages="fault('port')"
      />
      <v-select v-model="role" :items="roles" label="Is placed as" :error-messages="fault('role')" />
    </div>
    <p class="soft">
      It is never asked, on each network whose page offers <i>always</i>.
      {{
        kind === 'device'
          ? 'A MAC address can be copied where the air is open: give it no role that reaches the house, but on wires.'
          : 'Whoever plugs something in there is in: look who can reach it.'
      }}
    </p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" size="small" variant="flat" color="primary" :disabled="isBusy">
        {{ t ? 'Save' : 'Let in always' }}
      </v-btn>
      <v-btn size="small" variant="text" @click="emit('close')">Back</v-btn>
      <RemoveButton
        v-if="t"
        :remove="() => api.DELETE('/api/trusted/{trusted}', { params: { path: { trusted: t!.id } } })"
        label="Let go"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.acts {
  margin-bottom: 10px;
}
</style>
