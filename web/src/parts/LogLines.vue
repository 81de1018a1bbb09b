<script setup lang="ts">
import { ref } from 'vue'

import type { LogLine } from '../api/client'
import { useTimes } from '../use/useTimes'

defineProps<{ lines: LogLine[]; openable?: boolean }>()
const times = useTimes()
const open = ref<Set<number>>(new Set())

function turn(id: number): void {
  const next = new Set(open.value)
  if (!next.delete(id)) next.add(id)
  open.value = next
}
</script>

<template>
  <ol class="lines">
    <li v-for="line in lines" :key="line.id">
      <time class="mono soft" :title="times.exact(line.at)">{{ times.second(line.at) }}</time>
      <div>
        <button
          v-if="line.steps?.length"
          :aria-expanded="open.has(line.id)"
          class="said"
          @click="turn(line.id)"
        >
          {{ line.text }}<span v-if="line.repeats" class="soft"> · {{ line.repeats + 1 }} times</span>
          <span class="why">{{ open.has(line.id) ? 'hide why' : 'why' }}</span>
        </button>
        <span v-else>{{ line.text }}</span>
        <dl v-if="open.has(line.id)">
          <template v-for="(step, at) in line.steps" :key="at"
            ><dt>{{ step[0] }}</dt>
            <dd>{{ step[1] }}</dd></template
          >
        </dl>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.lines {
  list-style: none;
  padding: 0;
  margin: 0;
  font-size: 14px;
}
li {
  display: grid;
  grid-template-columns: 74px 1fr;
  gap: 8px;
  padding: 5px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
time {
  font-size: 13px;
  padding-top: 1px;
}
.said {
  text-align: left;
}
.why {
  color: rgb(var(--v-theme-primary));
  text-decoration: underline;
  text-underline-offset: 3px;
  margin-left: 8px;
  font-size: 13px;
}
dl {
  display: grid;
  grid-template-columns: 92px 1fr;
  gap: 2px 10px;
  margin: 6px 0 4px;
  padding: 6px 0 6px 10px;
  border-left: 3px solid rgb(var(--v-theme-primary));
}
dt {
  color: rgb(var(--v-theme-soft));
}
dd {
  margin: 0;
}
</style>
