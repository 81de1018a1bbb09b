<script setup lang="ts">
// What every way in may be set to besides: what the page calls it, its hours, how long a login is remembered.
import { computed, ref } from 'vue'

import type { Hours, Way } from '../../../api/client'
import HoursField from '../../../parts/HoursField.vue'

const way = defineModel<Way>({ required: true })
const props = defineProps<{ name: string; faults: string[] }>()
const KNOWN = [
  { value: null, title: 'as long as what they have goes on' },
  { value: 0, title: 'not at all: asked whenever they were away' },
  { value: 60, title: 'for an hour since their login' },
  { value: 480, title: 'for 8 hours since their login' },
  { value: 1440, title: 'for a day since their login' },
  { value: 4320, title: 'for 3 days since their login' },
  { value: 10_080, title: 'for a week since their login' },
  { value: 43_200, title: 'for 30 days since their login' },
]
const options = computed(() => {
  const own = way.value.remember_minutes
  if (KNOWN.some((one) => one.value === (own ?? null))) return KNOWN
  return [...KNOWN, { value: own as number, title: `for ${own} minutes since their login` }]
})
const hours = computed({
  get: () => way.value.hours ?? null,
  set: (now: Hours | null) => (way.value.hours = now),
})
const label = (lang: 'en' | 'de') =>
  computed({
    get: () => way.value.labels?.[lang] ?? '',
    set: (text: string) => (way.value.labels = { ...way.value.labels, [lang]: text }),
  })
const en = label('en')
const de = label('de')
const { labels, remember_minutes } = way.value
const isOpen = ref(
  way.value.hours != null || remember_minutes != null || Object.values(labels ?? {}).some(Boolean),
)
</script>

<template>
  <button type="button" class="more" :aria-expanded="isOpen" @click="isOpen = !isOpen">
    {{ isOpen ? 'Less' : 'Name on the page, remembering, hours' }}
  </button>
  <template v-if="isOpen">
    <div class="settings">
      <v-text-field
        v-model="en"
        label="On the page, English"
        :placeholder="props.name"
        maxlength="60"
        persistent-placeholder
      />
      <v-text-field v-model="de" label="On the page, German" maxlength="60" />
      <v-select
        v-model="way.remember_minutes"
        :items="options"
        label="Guests who come back are let in without the page"
      />
    </div>
    <HoursField
      v-model="hours"
      label="Hours at which it lets somebody in; whoever is in by it stays in"
      always="It lets guests in at any hour."
      :faults="faults"
    />
  </template>
</template>

<style scoped>
.more {
  font-size: 14px;
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
  text-underline-offset: 3px;
  margin: 6px 0;
}
.settings {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) minmax(0, 1.6fr);
  gap: 16px;
  padding: 8px 0;
}
@media (max-width: 800px) {
  .settings {
    grid-template-columns: 1fr;
  }
}
</style>
