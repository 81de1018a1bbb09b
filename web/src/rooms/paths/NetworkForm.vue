<script setup lang="ts">
// The stage *Arrives*: by what a network is recognised, and whose accounting counts.
import { ref } from 'vue'

import { call, type Hint, type Network, type Paths } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import FieldRow from '../../parts/FieldRow.vue'
import HintField from './HintField.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ network: Network | null; paths: Paths }>()
const emit = defineEmits<{ saved: [id: number]; removed: []; close: [] }>()
const { isBusy, problem, act } = useAct()
const any = (): Hint => ({ match: 'any', value: '' })
const n = props.network
const form = ref({
  name: n?.name ?? '',
  door_role: n?.door_role ?? props.paths.roles.find((r) => r.is_door)?.id ?? 0,
  ssid: { ...(n?.ssid ?? { match: 'exact' as const, value: '' }) },
  nas_identifier: { ...(n?.nas_identifier ?? any()) },
  port_id: { ...(n?.port_id ?? any()) },
  port_type: n?.port_type ?? null,
  access_device: n?.access_device ?? null,
  counted_at: n?.counted_at ?? null,
})

async function save(): Promise<void> {
  const path = n ? `/api/networks/${n.id}` : '/api/networks'
  const saved = await act(() => call<Network>(n ? 'PUT' : 'POST', path, form.value))
  if (saved) emit('saved', saved.id)
}
</script>

<template>
  <form class="sheet" aria-label="How the network is recognised" @submit.prevent="save">
    <div class="columns">
      <div>
        <FieldRow label="Name" name="name" :problem="problem"
          ><input v-model="form.name" required maxlength="60"
        /></FieldRow>
        <HintField v-model="form.ssid" label="SSID" name="ssid" :problem="problem" />
        <FieldRow label="Role before login" name="door_role" :problem="problem">
          <select v-model="form.door_role">
            <option v-for="r in paths.roles.filter((x) => x.is_door)" :key="r.id" :value="r.id">
              {{ r.name }}
            </option>
          </select>
        </FieldRow>
      </div>
      <div>
        <HintField
          v-model="form.nas_identifier"
          label="NAS-Identifier"
          name="nas_identifier"
          :problem="problem"
        />
        <HintField v-model="form.port_id" label="NAS-Port-Id" name="port_id" :problem="problem" />
        <FieldRow label="Kind of port">
          <select v-model="form.port_type">
            <option :value="null">any</option>
            <option :value="19">Wi-Fi</option>
            <option :value="15">wired</option>
          </select>
        </FieldRow>
      </div>
      <div>
        <FieldRow label="Only when asked by" name="access_device" :problem="problem">
          <select v-model="form.access_device">
            <option :value="null">any access device</option>
            <option v-for="d in paths.devices" :key="d.id" :value="d.id">{{ d.name }}</option>
          </select>
        </FieldRow>
        <FieldRow
          label="When two devices report a guest, count"
          hint="Leave it to the dialects unless two of them see the same traffic."
          name="counted_at"
          :problem="problem"
        >
          <select v-model="form.counted_at">
            <option :value="null">as the dialects say</option>
            <option v-for="d in paths.devices" :key="d.id" :value="d.id">{{ d.name }}</option>
          </select>
        </FieldRow>
      </div>
    </div>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ n ? 'Save' : 'Add network' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="n"
        :path="`/api/networks/${n.id}`"
        label="Remove network"
        @removed="emit('removed')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 0 28px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
