<script setup lang="ts">
// When something is open: weekdays from and to, and dates that are otherwise; nothing set means always.
import { ref, watch } from 'vue'

import type { Hours } from '../api/client'
import { meantHours, typedHours, type Typed } from './hours'

const hours = defineModel<Hours | null>({ required: true })
defineProps<{ label: string; always: string; faults?: string[] }>()
const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const typed = ref<Typed | null>(hours.value ? typedHours(hours.value) : null)

function set(): void {
  typed.value = {
    rows: [{ days: [true, true, true, true, true, false, false], from: '08:00', to: '18:00' }],
    dates: [],
  }
}
function addRow(): void {
  typed.value?.rows.push({ days: Array<boolean>(7).fill(false), from: '10:00', to: '14:00' })
}
function addDate(): void {
  typed.value?.dates.push({ day: '', isClosed: true, from: '08:00', to: '18:00' })
}
watch(typed, (now) => (hours.value = now ? meantHours(now) : null), { deep: true })
</script>

<template>
  <fieldset>
    <legend>{{ label }}</legend>
    <p v-if="!typed" class="row">
      <span class="soft">{{ always }}</span>
      <v-btn size="x-small" @click="set">Set hours</v-btn>
    </p>
    <template v-else>
      <div v-for="(row, n) in typed.rows" :key="n" class="row">
        <span class="days">
          <button
            v-for="(day, weekday) in DAYS"
            :key="day"
            type="button"
            :class="{ on: row.days[weekday] }"
            :aria-pressed="row.days[weekday]"
            @click="row.days[weekday] = !row.days[weekday]"
          >
            {{ day }}
          </button>
        </span>
        <v-text-field v-model="row.from" class="time" type="time" label="From" required />
        <v-text-field v-model="row.to" class="time" type="time" label="To" required />
        <span v-if="row.to <= row.from && row.to !== '00:00'" class="soft">on the next day</span>
        <v-btn size="x-small" variant="text" @click="typed.rows.splice(n, 1)">Take away</v-btn>
      </div>
      <div v-for="(date, n) in typed.dates" :key="`date${n}`" class="row">
        <v-text-field v-model="date.day" class="date" type="date" label="On this date" required />
        <v-checkbox v-model="date.isClosed" label="closed" />
        <template v-if="!date.isClosed">
          <v-text-field v-model="date.from" class="time" type="time" label="From" required />
          <v-text-field v-model="date.to" class="time" type="time" label="To" required />
        </template>
        <v-btn size="x-small" variant="text" @click="typed.dates.splice(n, 1)">Take away</v-btn>
      </div>
      <p class="row">
        <v-btn size="x-small" @click="addRow">More hours</v-btn>
        <v-btn size="x-small" @click="addDate">A date that is otherwise</v-btn>
        <v-btn size="x-small" variant="text" @click="typed = null">Open always</v-btn>
      </p>
    </template>
    <p v-for="line in faults" :key="line" class="bad" role="alert">{{ line }}</p>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 6px 0;
}
legend {
  font-size: 13px;
  color: rgb(var(--v-theme-soft));
}
.row {
  gap: 8px 12px;
  margin: 4px 0;
}
.days {
  display: inline-flex;
  border: 1px solid rgb(var(--v-theme-hair));
  border-radius: 6px;
  overflow: hidden;
}
.days button {
  padding: 7px 8px;
  font-size: 13.5px;
}
.days button + button {
  border-left: 1px solid rgb(var(--v-theme-hair));
}
.days .on {
  background: rgb(var(--v-theme-primary));
  color: rgb(var(--v-theme-on-primary));
}
.time {
  flex: 0 0 130px;
}
.date {
  flex: 0 0 180px;
}
.bad {
  color: rgb(var(--v-theme-error));
  font-size: 14px;
}
</style>
