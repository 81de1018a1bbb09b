<script setup lang="ts">
// Whether a passphrase has a private group.
const has = defineModel<boolean>({ required: true })
defineProps<{ faults: string[] }>()
</script>

<template>
  <v-checkbox
    v-model="has"
    label="A private group"
    hint="Its devices see each other, and nobody else's."
    persistent-hint
    :error-messages="faults"
  />
</template>
