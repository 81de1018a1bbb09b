<script setup lang="ts">
// What is being edited in Networks: a network by its stages, a role or a dialect; nothing while it is closed.
import { computed } from 'vue'

import type { Dialect, Network, Networks, Role } from '../../api/client'
import DialectForm from './DialectForm.vue'
import NetworkForm from './NetworkForm.vue'
import PauseForm from './PauseForm.vue'
import RoleForm from './RoleForm.vue'
import WaysForm from './ways/WaysForm.vue'

const props = defineProps<{
  setup: Networks
  editing: string | null
  network: Network | null
  role: Role | null
  dialect: Dialect | null
}>()
const emit = defineEmits<{ saved: [query?: Record<string, string | undefined>]; close: [] }>()

/** What the editor is about; null while it is closed. */
const edited = computed(() => {
  if (props.editing === 'new') return 'A new network'
  if (props.network && props.editing === 'network') return `How ${props.network.name} is recognised`
  if (props.network && props.editing === 'ways')
    return props.network.ways?.some((way) => way.way === 'passphrase')
      ? `What lets devices into ${props.network.name}`
      : `What the page of ${props.network.name} offers, from top to bottom`
  if (props.network && props.editing === 'pause') return `${props.network.name} lets nobody in for a while`
  if (props.role) return `${props.role.name}: what is sent to the access device`
  if (props.editing === 'role') return 'A new role'
  if (props.dialect) return `Dialect ${props.dialect.name}`
  return props.editing === 'dialect' ? 'A new dialect' : null
})
</script>

<template>
  <div v-if="edited" class="editor">
    <h2>{{ edited }}</h2>
    <NetworkForm
      v-if="editing === 'network' || editing === 'new'"
      :key="`${editing}${network?.id}`"
      :network="editing === 'new' ? null : network"
      :setup="setup"
      @saved="(id) => emit('saved', { network: String(id) })"
      @removed="emit('saved', { network: undefined })"
      @close="emit('close')"
    />
    <PauseForm
      v-else-if="editing === 'pause' && network"
      :key="`pause${network.id}`"
      :network="network"
      @saved="emit('saved')"
      @close="emit('close')"
    />
    <WaysForm
      v-else-if="editing === 'ways' && network"
      :key="network.id"
      :network="network"
      :setup="setup"
      @saved="emit('saved')"
      @close="emit('close')"
    />
    <RoleForm
      v-else-if="role || editing === 'role'"
      :key="role?.id ?? 0"
      :role="role"
      @saved="emit('saved')"
      @close="emit('close')"
    />
    <DialectForm
      v-else
      :key="dialect?.id ?? 0"
      :dialect="dialect"
      :setup="setup"
      @saved="emit('saved')"
      @close="emit('close')"
    />
  </div>
</template>

<style scoped>
.editor {
  border-top: 2px solid rgb(var(--v-theme-primary));
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 16px 0;
  margin-bottom: 6px;
}
</style>
