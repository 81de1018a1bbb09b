<script setup lang="ts">
// What is sent for a role: VLAN, and a filter by name or as rules.
import { ref } from 'vue'

import { api, got, type Role } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import AmountField from '../../parts/AmountField.vue'
import { meant, RATES, shown } from '../../parts/amounts'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ role: Role | null }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const name = ref(props.role?.name ?? '')
const isDoor = ref(false)
const vlan = ref(props.role?.vlan?.toString() ?? '')
const filterName = ref(props.role?.filter_name ?? '')
const rules = ref(props.role?.filter_rules?.join('\n') ?? '')
const down = ref(shown(props.role?.down_bps, RATES, 1e6))
const up = ref(shown(props.role?.up_bps, RATES, 1e6))

async function save(): Promise<void> {
  const wanted = {
    name: name.value,
    vlan: vlan.value === '' ? null : Number(vlan.value),
    filter_name: filterName.value || null,
    filter_rules: rules.value.split('\n').filter((line) => line.trim()),
    down_bps: meant(down.value),
    up_bps: meant(up.value),
  }
  const role = props.role
  const saved = await act(() =>
    role
      ? got(api.PUT('/api/roles/{role}', { params: { path: { role: role.id } }, body: wanted }))
      : got(api.POST('/api/roles', { body: { ...wanted, is_door: isDoor.value } })),
  )
  if (saved) emit('saved')
}
</script>

<template>
  <form
    class="sheet"
    :aria-label="role ? `What is sent for ${role.name}` : 'A new role'"
    @submit.prevent="save"
  >
    <div class="columns">
      <div class="stack">
        <v-text-field v-model="name" label="Name" maxlength="60" required :error-messages="fault('name')" />
        <v-checkbox v-if="!role" v-model="isDoor" label="devices have it before login" />
        <div class="pair">
          <v-text-field
            v-model="vlan"
            label="VLAN"
            placeholder="none is sent"
            inputmode="numeric"
            persistent-placeholder
            :error-messages="fault('vlan')"
          />
          <v-text-field
            v-model="filterName"
            label="Filter name (Filter-Id)"
            placeholder="none is sent"
            maxlength="253"
            persistent-placeholder
            :error-messages="fault('filter_name')"
          />
        </div>
        <div class="pair">
          <AmountField
            v-model="down"
            label="Rate to the guest"
            name="down_bps"
            :units="RATES"
            :problem="problem"
          />
          <AmountField v-model="up" label="From the guest" name="up_bps" :units="RATES" :problem="problem" />
        </div>
      </div>
      <v-textarea
        v-model="rules"
        label="Filter rules (NAS-Filter-Rule), one on each line"
        hint="For dialects that honour rules instead of a name; the last one says what becomes of all else."
        persistent-hint
        rows="5"
        spellcheck="false"
        class="mono"
        :error-messages="fault('filter_rules')"
      />
    </div>
    <p class="soft rates">A plan may have a rate too: the lower of the two holds.</p>
    <p v-if="role?.ignored.length" class="ignored">As it is set now, {{ role.ignored.join('; ') }}.</p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ role ? 'Save' : 'Add role' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="role"
        :remove="() => api.DELETE('/api/roles/{role}', { params: { path: { role: role!.id } } })"
        label="Remove role"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.rates {
  font-size: 13.5px;
  margin: 6px 0 10px;
}
.ignored {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  font-size: 14.5px;
  margin: 0 0 12px;
}
@media (max-width: 900px) {
  .columns,
  .pair {
    grid-template-columns: 1fr;
  }
}
</style>
