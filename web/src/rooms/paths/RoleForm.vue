<script setup lang="ts">
// What is sent for a role: VLAN, and a filter by name or as rules.
import { ref } from 'vue'

import { call, type Role } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import FieldRow from '../../parts/FieldRow.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ role: Role | null }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act } = useAct()
const name = ref(props.role?.name ?? '')
const isDoor = ref(false)
const vlan = ref(props.role?.vlan?.toString() ?? '')
const filterName = ref(props.role?.filter_name ?? '')
const rules = ref(props.role?.filter_rules.join('\n') ?? '')

async function save(): Promise<void> {
  const wanted = {
    name: name.value,
    vlan: vlan.value === '' ? null : Number(vlan.value),
    filter_name: filterName.value || null,
    filter_rules: rules.value.split('\n').filter((line) => line.trim()),
  }
  const role = props.role
  const saved = await act(() =>
    role
      ? call('PUT', `/api/roles/${role.id}`, wanted)
      : call('POST', '/api/roles', { ...wanted, is_door: isDoor.value }),
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
    <h2>{{ role ? `${role.name}: what is sent to the access device` : 'A new role' }}</h2>
    <div class="columns">
      <div>
        <FieldRow label="Name" name="name" :problem="problem"
          ><input v-model="name" required maxlength="60"
        /></FieldRow>
        <label v-if="!role" class="tick"
          ><input v-model="isDoor" type="checkbox" /> devices have it before login</label
        >
      </div>
      <FieldRow label="VLAN" hint="Empty: none is sent." name="vlan" :problem="problem">
        <input v-model="vlan" inputmode="numeric" />
      </FieldRow>
      <FieldRow
        label="Filter name (Filter-Id)"
        hint="A filter that exists in the device."
        name="filter_name"
        :problem="problem"
      >
        <input v-model="filterName" maxlength="253" />
      </FieldRow>
      <FieldRow
        label="Filter rules (NAS-Filter-Rule), one on each line"
        hint="For dialects that honour rules instead of a name; the last one says what becomes of all else."
        name="filter_rules"
        :problem="problem"
      >
        <textarea v-model="rules" rows="4" spellcheck="false" />
      </FieldRow>
    </div>
    <p v-if="role?.ignored.length" class="ignored">As it is set now, {{ role.ignored.join('; ') }}.</p>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ role ? 'Save' : 'Add role' }}
      </v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <RemoveButton
        v-if="role"
        :path="`/api/roles/${role.id}`"
        label="Remove role"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: 200px 110px 220px minmax(0, 1fr);
  gap: 0 28px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 14.5px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.ignored {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  font-size: 14.5px;
  margin: 0 0 12px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
