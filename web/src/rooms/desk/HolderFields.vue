<script setup lang="ts">
// What is said of a pass or an account besides its plan: until when, on how many devices, and how it is proved.
import type { ApiProblem, Plan } from '../../api/client'
import type { Holder } from './holder'

const holder = defineModel<Holder>({ required: true })
const props = defineProps<{ plan: Plan | null; isAccount: boolean; problem: ApiProblem | null }>()
const fault = (name: string) => (props.problem?.field === name ? [props.problem.message] : [])
</script>

<template>
  <div class="more">
    <template v-if="isAccount">
      <v-text-field
        v-model="holder.name"
        label="Name to log in with"
        maxlength="60"
        autocapitalize="none"
        placeholder="ines.harwood"
        persistent-placeholder
        required
        hint="Capitals do not matter; no blanks."
        persistent-hint
        :error-messages="fault('name')"
      />
      <v-text-field
        v-model="holder.password"
        class="mono"
        label="Password"
        maxlength="128"
        autocomplete="off"
        placeholder="one is proposed"
        persistent-placeholder
        hint="Shown once. The guest may change it on the page."
        persistent-hint
        :error-messages="fault('password')"
      />
    </template>
    <v-text-field
      v-model="holder.until"
      label="Good until"
      type="datetime-local"
      :hint="isAccount ? 'Empty: until somebody ends it, or as its plan says.' : 'Empty: as its plan says.'"
      persistent-hint
      persistent-placeholder
      :error-messages="fault('until')"
    />
    <v-text-field
      v-model="holder.devices"
      label="Devices at once"
      inputmode="numeric"
      :placeholder="`${plan ? plan.devices : 1}, as the plan says`"
      persistent-placeholder
      hint="More for a party."
      persistent-hint
      :error-messages="fault('devices')"
    />
    <v-text-field
      v-if="!isAccount"
      v-model="holder.code"
      class="mono"
      label="Code"
      maxlength="40"
      placeholder="one is proposed"
      persistent-placeholder
      hint="Or choose one: 6 letters and digits at least."
      persistent-hint
      :error-messages="fault('code')"
    />
    <v-checkbox
      v-else
      v-model="holder.forChap"
      label="Also for access devices that ask by CHAP"
      hint="Weaker: the password is then kept readable, under the key file."
      persistent-hint
    />
  </div>
</template>

<style scoped>
.more {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 14px;
  margin-top: 14px;
}
@media (max-width: 1000px) {
  .more {
    grid-template-columns: 1fr;
  }
}
</style>
