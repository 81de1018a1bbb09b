<script setup lang="ts">
// What is issued may have terms of its own: between two moments, on more or fewer devices than its plan says.
import type { ApiProblem, Plan } from '../../api/client'
import type { Terms } from './holder'

const terms = defineModel<Terms>({ required: true })
const props = defineProps<{ plan: Plan | null; what: string; problem: ApiProblem | null }>()
const SEATS = [
  { value: 'at_once', title: 'at once', hint: 'One that leaves makes room for another.' },
  { value: 'ever', title: 'in all', hint: 'The first ones, and never another.' },
  { value: 'any', title: 'not at all', hint: 'Any number; all of them share what it gives.' },
]
const fault = (name: string) => (props.problem?.field === name ? [props.problem.message] : [])
</script>

<template>
  <v-text-field
    v-model="terms.since"
    label="Good from"
    type="datetime-local"
    hint="Empty: at once."
    persistent-hint
    persistent-placeholder
    :error-messages="fault('since')"
  />
  <v-text-field
    v-model="terms.until"
    label="Good until"
    type="datetime-local"
    :hint="
      what === 'account' ? 'Empty: until somebody ends it, or as its plan says.' : 'Empty: as its plan says.'
    "
    persistent-hint
    persistent-placeholder
    :error-messages="fault('until')"
  />
  <v-select
    v-model="terms.seats"
    label="Devices are counted"
    :items="SEATS"
    :hint="SEATS.find((one) => one.value === terms.seats)?.hint"
    persistent-hint
  />
  <v-text-field
    v-if="terms.seats !== 'any'"
    v-model="terms.devices"
    :label="terms.seats === 'ever' ? 'Devices in all' : 'Devices at once'"
    inputmode="numeric"
    :placeholder="`${plan ? plan.devices : 1}, as the plan says`"
    persistent-placeholder
    hint="More for a party."
    persistent-hint
    :error-messages="fault('devices')"
  />
</template>
