<script setup lang="ts">
// What one of the desk, or a program, may give; an empty field bounds nothing.
import type { ApiProblem, Limits } from '../../../api/client'
import LengthField from '../../../parts/LengthField.vue'

const limits = defineModel<Limits>({ required: true })
const props = defineProps<{
  networks: { id: number; name: string }[]
  plans: { id: number; name: string }[]
  problem: ApiProblem | null
}>()
const fault = (name: string) => (props.problem?.field?.endsWith(name) ? [props.problem.message] : [])
const number = (text: string) => (text.trim() ? Number(text) : null)
</script>

<template>
  <div class="fields">
    <v-select
      v-model="limits.networks"
      :items="networks"
      item-title="name"
      item-value="id"
      multiple
      label="What they give is good on"
      placeholder="every network"
      persistent-placeholder
      :error-messages="fault('networks')"
    />
    <v-select
      v-model="limits.plans"
      :items="plans"
      item-title="name"
      item-value="id"
      multiple
      label="Plans"
      placeholder="all of them"
      persistent-placeholder
      :error-messages="fault('plans')"
    />
    <LengthField
      v-model="limits.longest_minutes"
      label="For at most"
      name="limits.longest_minutes"
      none="any"
      :problem="problem"
    />
    <v-text-field
      :model-value="limits.most_at_once ?? ''"
      label="Codes with one gesture"
      placeholder="any number"
      persistent-placeholder
      inputmode="numeric"
      :error-messages="fault('most_at_once')"
      @update:model-value="limits.most_at_once = number($event)"
    />
    <v-text-field
      :model-value="limits.most_devices ?? ''"
      label="Devices on one code"
      placeholder="any number"
      persistent-placeholder
      inputmode="numeric"
      :error-messages="fault('most_devices')"
      @update:model-value="limits.most_devices = number($event)"
    />
    <v-checkbox
      v-model="limits.own_only"
      label="They see only what they issued"
      hint="Codes of others, and guests who are in by them, are not shown to them."
      persistent-hint
    />
  </div>
</template>
