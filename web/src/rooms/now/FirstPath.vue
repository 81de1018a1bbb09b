<script setup lang="ts">
// An empty house: the way from nothing to the first guest, drawn as the path that guests walk.
import { computed } from 'vue'

import type { FirstStep } from '../../api/client'
import { useRooms } from '../../use/useRooms'

const props = defineProps<{ steps: FirstStep[] }>()
const { mayEnter } = useRooms()
const STAGES = ['arrives', 'is asked', 'proves', 'is placed', 'stays', 'leaves']
const next = computed(() => props.steps.findIndex((step) => !step.is_done))
const stages = computed(() =>
  STAGES.map((name) => {
    const steps = props.steps.map((step, n) => ({ step, n })).filter(({ step }) => step.stage === name)
    return {
      name,
      steps,
      isDone: steps.length > 0 && steps.every(({ step }) => step.is_done),
      isNext: steps.some(({ n }) => n === next.value),
    }
  }),
)
</script>

<template>
  <section class="first" aria-label="From nothing to the first guest">
    <h1>From nothing to the first guest</h1>
    <p class="soft">
      The line below is the way that every guest walks. What is still missing stands at its stage; each step
      is ticked once it was heard.
    </p>
    <ol class="line">
      <li v-for="stage in stages" :key="stage.name" :class="{ done: stage.isDone, next: stage.isNext }">
        <span class="stage">{{ stage.name }}</span>
        <div
          v-for="{ step, n } in stage.steps"
          :key="step.title"
          class="step"
          :class="{ done: step.is_done, next: n === next }"
        >
          <p class="title">
            <span class="tick" aria-hidden="true">{{ step.is_done ? '✓' : n + 1 }}</span>
            {{ step.title }}<span class="away">{{ step.is_done ? ', done' : '' }}</span>
          </p>
          <p class="soft">{{ step.text }}</p>
          <v-btn
            v-if="step.link && step.act && mayEnter(step.link)"
            :to="step.link"
            size="small"
            :variant="n === next ? 'flat' : 'text'"
            :color="n === next ? 'primary' : undefined"
            >{{ step.act }}</v-btn
          >
        </div>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.first {
  margin-bottom: 26px;
}
.line {
  list-style: none;
  display: grid;
  grid-template-columns: 20fr 18fr 18fr 10fr 20fr 9fr;
  padding: 0;
  margin: 18px 0 0;
}
.line li {
  padding: 0 18px 0 0;
  border-top: 6px solid rgb(var(--v-theme-hair));
}
.line li.done {
  border-top-color: rgb(var(--v-theme-inside-band));
}
.line li.next {
  border-top-color: rgb(var(--v-theme-door-band));
}
.stage {
  display: block;
  font-size: 14px;
  color: rgb(var(--v-theme-soft));
  padding: 6px 0 4px;
}
.step {
  padding: 8px 0 14px;
}
.step p {
  margin: 0 0 4px;
  font-size: 14.5px;
}
.title {
  font-weight: 700;
}
.step :deep(.v-btn--variant-text) {
  margin-left: -12px;
}
.tick {
  font-family: var(--mono);
  margin-right: 6px;
}
.step.done .step :deep(.v-btn--variant-text) {
  margin-left: -12px;
}
.tick {
  color: rgb(var(--v-theme-inside));
}
@media (max-width: 900px) {
  .line {
    grid-template-columns: 1fr;
  }
  .line li:not(:has(.step)) {
    display: none;
  }
}
</style>
