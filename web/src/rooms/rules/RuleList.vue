<script setup lang="ts">
// Rules in their order, moved by keys or by hand; the last one always matches.
import { computed, ref, watch } from 'vue'

import { api, got, type RulesAndPlans, type Rule } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import RuleForm from './RuleForm.vue'

const props = defineProps<{ placement: RulesAndPlans }>()
const emit = defineEmits<{
  changed: [placement: RulesAndPlans]
  did: [says: string, back: (() => Promise<boolean>) | null]
}>()
const { isBusy, problem, act } = useAct()
const picked = ref(0)
const editing = ref<number | null>(null)
const dragged = ref<number | null>(null)

const rules = computed(() => props.placement.rules)
const lastChoices = computed(() => [
  { title: 'stays at the door', value: null },
  ...props.placement.roles.map((role) => ({ title: `is placed as ${role.name}`, value: role.id })),
])
watch(rules, (now) => (picked.value = Math.min(picked.value, Math.max(0, now.length - 1))))

async function put(wanted: Rule[], last: number | null, isUndo = false): Promise<boolean> {
  const before = rules.value
  const lastBefore = props.placement.last_role
  const body = {
    rules: wanted.map(({ id, network, way_in, plan, role }) => ({ id, network, way_in, plan, role })),
    last_role: last,
  }
  const saved = await act(() => got(api.PUT('/api/rules', { body })))
  if (!saved) return false
  editing.value = null
  emit('changed', saved)
  if (!isUndo)
    emit(
      'did',
      'The rules were changed: whoever is inside and belongs elsewhere by them is moved within seconds.',
      () => putBack(before, lastBefore),
    )
  return true
}

/** A rule that was removed has a new number then. */
async function putBack(before: Rule[], last: number | null): Promise<boolean> {
  const there = new Set(rules.value.map((rule) => rule.id))
  const wanted = before.map((rule) => ({ ...rule, id: there.has(rule.id) ? rule.id : 0 }))
  return put(wanted, last, true)
}

function move(from: number, to: number): void {
  if (from === to || to < 0 || to >= rules.value.length) return
  const wanted = [...rules.value]
  const [rule] = wanted.splice(from, 1)
  if (!rule) return
  wanted.splice(to, 0, rule)
  picked.value = to
  void put(wanted, props.placement.last_role)
}

function saveRule(rule: Rule): void {
  const wanted = [...rules.value]
  if (editing.value === rules.value.length) wanted.push(rule)
  else wanted[editing.value ?? 0] = rule
  void put(wanted, props.placement.last_role)
}

function remove(at: number): void {
  void put(
    rules.value.filter((_, n) => n !== at),
    props.placement.last_role,
  )
}

function drop(at: number): void {
  if (dragged.value !== null) move(dragged.value, at)
  dragged.value = null
}

useKeys({
  j: () => (picked.value = Math.min(rules.value.length - 1, picked.value + 1)),
  k: () => (picked.value = Math.max(0, picked.value - 1)),
  J: () => move(picked.value, picked.value + 1),
  K: () => move(picked.value, picked.value - 1),
  Enter: () => (editing.value = picked.value),
  Escape: () => (editing.value = null),
})
</script>

<template>
  <section aria-label="Rules">
    <div class="row">
      <h2>Rules</h2>
      <span class="soft">
        The first one that matches places the guest. <kbd>j</kbd><kbd>k</kbd> choose, <kbd>J</kbd><kbd>K</kbd>
        move, or drag.
      </span>
      <v-btn class="changes" size="x-small" @click="editing = rules.length">Add rule</v-btn>
    </div>
    <ProblemNote :problem="problem" />
    <ol>
      <li
        v-for="(rule, n) in rules"
        :key="rule.id"
        :class="{ picked: n === picked, over: dragged !== null && dragged !== n }"
        draggable="true"
        @dragstart="dragged = n"
        @dragend="dragged = null"
        @dragover.prevent
        @drop.prevent="drop(n)"
      >
        <div class="rule" @click="picked = n">
          <span class="grip" aria-hidden="true">⋮</span>
          <span class="mono place">{{ n + 1 }}</span>
          <button class="says" @click="editing = editing === n ? null : n">{{ rule.sentence }}</button>
          <span v-if="rule.never" class="never">{{ rule.never }}</span>
          <v-btn
            class="changes"
            size="x-small"
            variant="text"
            :disabled="isBusy || n === 0"
            @click.stop="move(n, n - 1)"
          >
            Up
          </v-btn>
          <v-btn
            class="changes"
            size="x-small"
            variant="text"
            :disabled="isBusy || n === rules.length - 1"
            @click.stop="move(n, n + 1)"
          >
            Down
          </v-btn>
          <v-btn class="changes" size="x-small" variant="text" :disabled="isBusy" @click.stop="remove(n)"
            >Remove</v-btn
          >
        </div>
        <RuleForm
          v-if="editing === n"
          :rule="rule"
          :placement="placement"
          @save="saveRule"
          @close="editing = null"
        />
      </li>
      <li v-if="editing === rules.length">
        <RuleForm :rule="null" :placement="placement" @save="saveRule" @close="editing = null" />
      </li>
      <li class="last">
        <span class="mono place">{{ rules.length + 1 }}</span>
        <span>everybody else</span>
        <v-select
          :model-value="placement.last_role"
          :items="lastChoices"
          aria-label="What becomes of everybody else"
          class="choice"
          @update:model-value="(role: number | null) => put(rules, role)"
        />
        <span class="soft">the last rule, which always matches</span>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.row {
  margin-bottom: 4px;
}
.row h2 {
  margin: 0;
}
.row .soft {
  font-size: 13.5px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
li.picked {
  background: rgb(var(--v-theme-tint));
}
li.over:hover {
  border-top: 2px solid rgb(var(--v-theme-primary));
}
.rule,
.last {
  display: flex;
  gap: 12px;
  align-items: center;
  min-height: 38px;
  padding: 0 6px;
}
.grip {
  cursor: grab;
  color: rgb(var(--v-theme-soft));
}
.place {
  width: 22px;
  text-align: right;
  color: rgb(var(--v-theme-soft));
}
.last .place {
  margin-left: 17px;
}
.says {
  flex: 1;
  text-align: left;
  min-width: 0;
}
.never {
  color: rgb(var(--v-theme-barred));
  font-size: 13.5px;
}
.choice {
  max-width: 260px;
}
.last {
  padding: 6px;
}
@media (max-width: 700px) {
  .rule,
  .last {
    flex-wrap: wrap;
    padding: 6px;
  }
}
</style>
