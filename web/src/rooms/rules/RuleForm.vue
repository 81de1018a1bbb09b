<script setup lang="ts">
// One rule: what it asks, and where it leads.
import { computed, ref } from 'vue'

import type { RulesAndPlans, Rule } from '../../api/client'

const props = defineProps<{ rule: Rule | null; placement: RulesAndPlans }>()
const emit = defineEmits<{ save: [rule: Rule]; close: [] }>()
const network = ref(props.rule?.network ?? null)
const way = ref(props.rule?.way_in ?? null)
const plan = ref(props.rule?.plan ?? null)
const role = ref(props.rule?.role ?? props.placement.roles[0]?.id ?? null)

const any = (title: string) => ({ title, value: null })
const networks = computed(() => [
  any('any network'),
  ...props.placement.networks.map((n) => ({ title: n.name, value: n.id })),
])
const ways = computed(() => [
  any('any way in'),
  ...props.placement.ways.map((w) => ({ title: w.replace('_', '-'), value: w })),
])
const plans = computed(() => [
  any('any plan'),
  ...props.placement.plans.map((p) => ({ title: p.name, value: p.id })),
])
const roles = computed(() => props.placement.roles.map((r) => ({ title: r.name, value: r.id })))

function save(): void {
  if (role.value === null) return
  emit('save', {
    id: props.rule?.id ?? 0,
    network: network.value,
    way_in: way.value,
    plan: plan.value,
    role: role.value,
    sentence: '',
    never: null,
  })
}
</script>

<template>
  <form class="form" aria-label="A rule" @submit.prevent="save">
    <v-select v-model="network" :items="networks" label="On" />
    <v-select v-model="way" :items="ways" label="In by" />
    <v-select v-model="plan" :items="plans" label="With" />
    <v-select v-model="role" :items="roles" label="Is placed as" />
    <v-btn type="submit" variant="flat" color="primary" :disabled="role === null">
      {{ rule ? 'Save' : 'Add rule' }}
    </v-btn>
    <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
    <p v-if="!roles.length" class="soft">
      There is no role for guests who are let in yet: add one in Networks, under Roles.
    </p>
  </form>
</template>

<style scoped>
.form {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr)) auto auto;
  gap: 12px;
  align-items: center;
  padding: 10px 6px 14px 45px;
}
@media (max-width: 1000px) {
  .form {
    grid-template-columns: 1fr 1fr;
    padding-left: 6px;
  }
}
</style>
