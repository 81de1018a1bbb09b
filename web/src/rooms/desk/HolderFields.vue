<script setup lang="ts">
// How the holder of a pass or an account proves to be the one.
import type { ApiProblem } from '../../api/client'
import type { Holder } from './holder'

const holder = defineModel<Holder>({ required: true })
const props = defineProps<{ isAccount: boolean; problem: ApiProblem | null }>()
const fault = (name: string) => (props.problem?.field === name ? [props.problem.message] : [])
</script>

<template>
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
</template>
