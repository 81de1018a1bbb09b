<script setup lang="ts">
// A network that lets nobody in for a while: until when, why, and what becomes of those inside.
import { computed, ref } from 'vue'

import { api, got, type Network } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ network: Network }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const pause = props.network.pause
const why = ref(pause?.why ?? '')
const until = ref('')
const endsStays = ref(pause?.ends_stays ?? false)
const inside = computed(() =>
  props.network.inside === 1
    ? 'One device is inside now.'
    : `${props.network.inside} devices are inside now.`,
)

async function save(): Promise<void> {
  const wanted = { until: until.value || null, why: why.value, ends_stays: endsStays.value }
  if (
    await act(() =>
      got(
        api.POST('/api/networks/{network}/pause', {
          params: { path: { network: props.network.id } },
          body: wanted,
        }),
      ),
    )
  )
    emit('saved')
}
async function end(): Promise<void> {
  if (
    await act(() =>
      got(api.POST('/api/networks/{network}/end-pause', { params: { path: { network: props.network.id } } })),
    )
  )
    emit('saved')
}
</script>

<template>
  <form :aria-label="`Pause ${network.name}`" @submit.prevent="save">
    <p v-if="pause" class="note">{{ pause.sentence }}</p>
    <div class="fields">
      <v-text-field
        v-model="why"
        label="Why, as guests read it"
        placeholder="The Wi-Fi is quiet during the concert."
        maxlength="200"
        persistent-placeholder
        :error-messages="fault('why')"
      />
      <v-text-field
        v-model="until"
        type="datetime-local"
        label="Until, or until you end it"
        :error-messages="fault('until')"
      />
    </div>
    <p class="soft">{{ inside }} Meanwhile</p>
    <v-radio-group v-model="endsStays" aria-label="What becomes of those inside">
      <v-radio :value="false" label="they stay in, and nobody else is let in" />
      <v-radio :value="true" label="they go to the door, and are in again afterwards by themselves" />
    </v-radio-group>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">
        {{ pause ? 'Change the pause' : `Pause ${network.name}` }}
      </v-btn>
      <v-btn v-if="pause" :disabled="isBusy" @click="end">End the pause</v-btn>
      <v-btn variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      <span class="soft"
        >What guests have goes on meanwhile by the clock; it reaches them within seconds.</span
      >
    </div>
  </form>
</template>

<style scoped>
.fields {
  grid-template-columns: minmax(0, 560px) minmax(0, 260px);
  gap: 16px;
}
.note {
  margin: 0;
}
@media (max-width: 800px) {
  .fields {
    grid-template-columns: 1fr;
  }
}
</style>
