<script setup lang="ts">
// The stage *Arrives*: by what a network is recognised, and whose accounting counts.
import { ref, watch } from 'vue'

import { api, got, type Hint, type Network, type Networks } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import HintField from './HintField.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ network: Network | null; setup: Networks }>()
const emit = defineEmits<{ saved: [id: number]; removed: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const any = (): Hint => ({ match: 'any', value: '' })
const n = props.network
const form = ref({
  name: n?.name ?? '',
  door_role: n?.door_role ?? props.setup.roles.find((r) => r.is_door)?.id ?? 0,
  ssid: { ...(n?.ssid ?? { match: 'exact' as const, value: '' }) },
  nas_identifier: { ...(n?.nas_identifier ?? any()) },
  port_id: { ...(n?.port_id ?? any()) },
  port_type: n?.port_type ?? null,
  access_device: n?.access_device ?? null,
  counted_at: n?.counted_at ?? null,
  onward: n?.onward ?? '',
  // A new one is proposed to those that serve none yet.
  served_by: [...(n?.served_by ?? props.setup.devices.filter((d) => !d.serves.length).map((d) => d.id))],
})
const leadsTo = ref(!n?.onward ? '' : n.onward === 'status' ? 'status' : 'fixed')
const AFTER_LOGIN = [
  { value: '', title: 'on to where they were going, by a button' },
  { value: 'status', title: 'nowhere: the status page stays' },
  { value: 'fixed', title: 'by themselves to this address' },
]
watch(leadsTo, (to) => (form.value.onward = to === 'fixed' ? '' : to))

const PORTS = [
  { title: 'any', value: null },
  { title: 'Wi-Fi', value: 19 },
  { title: 'wired', value: 15 },
]
const doors = props.setup.roles.filter((r) => r.is_door).map((r) => ({ title: r.name, value: r.id }))
const showsMore = ref(n !== null)
const devices = (none: string) => [
  { title: none, value: null },
  ...props.setup.devices.map((d) => ({ title: d.name, value: d.id })),
]

async function save(): Promise<void> {
  const body = form.value
  const saved = await act(() =>
    n
      ? got(api.PUT('/api/networks/{network}', { params: { path: { network: n.id } }, body }))
      : got(api.POST('/api/networks', { body })),
  )
  if (saved) emit('saved', saved.id)
}
</script>

<template>
  <form class="sheet" aria-label="How the network is recognised" @submit.prevent="save">
    <div class="columns">
      <v-text-field
        v-model="form.name"
        label="Name, as staff call it"
        maxlength="60"
        required
        :error-messages="fault('name')"
      />
      <HintField v-model="form.ssid" label="SSID" name="ssid" :problem="problem" />
      <v-select
        v-if="setup.devices.length"
        v-model="form.served_by"
        label="Access devices that serve it"
        :hint="form.served_by.length ? 'Requests from others are refused.' : 'None: nobody gets in.'"
        persistent-hint
        multiple
        :items="setup.devices"
        item-title="name"
        item-value="id"
        :error-messages="fault('served_by')"
      />
    </div>
    <p v-if="!showsMore" class="soft">
      That is enough for a Wi-Fi of its own: devices on it are asked for a voucher code at first.
      <button type="button" class="more" @click="showsMore = true">
        Recognise it by more, or change where it waits
      </button>
    </p>
    <div v-else class="columns">
      <div class="stack">
        <v-select
          v-model="form.door_role"
          label="Role before login"
          :items="doors"
          :error-messages="fault('door_role')"
        />
        <v-select v-model="form.port_type" label="Kind of port" :items="PORTS" />
      </div>
      <div class="stack">
        <HintField
          v-model="form.nas_identifier"
          label="NAS-Identifier"
          name="nas_identifier"
          :problem="problem"
        />
        <HintField v-model="form.port_id" label="NAS-Port-Id" name="port_id" :problem="problem" />
      </div>
      <div class="stack">
        <v-select
          v-model="form.access_device"
          label="Only when asked by"
          :items="devices('any access device')"
          :error-messages="fault('access_device')"
        />
        <v-select
          v-model="form.counted_at"
          label="When two devices report a guest, count"
          hint="Leave it to the dialects unless two of them see the same traffic."
          persistent-hint
          :items="devices('as the dialects say')"
          :error-messages="fault('counted_at')"
        />
      </div>
    </div>
    <div v-if="showsMore" class="columns">
      <v-select v-model="leadsTo" label="After login guests go" :items="AFTER_LOGIN" />
      <v-text-field
        v-if="leadsTo === 'fixed'"
        v-model="form.onward"
        label="Address"
        type="url"
        maxlength="1500"
        placeholder="https://house.example/welcome"
        persistent-placeholder
        required
        :error-messages="fault('onward')"
      />
    </div>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ network ? 'Save' : 'Add network' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="network"
        :remove="() => api.DELETE('/api/networks/{network}', { params: { path: { network: network!.id } } })"
        label="Remove network"
        @removed="emit('removed')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  grid-template-columns: repeat(3, minmax(0, 1fr));
  margin-bottom: 12px;
}
.more {
  text-decoration: underline;
  text-underline-offset: 3px;
  color: rgb(var(--v-theme-primary));
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
