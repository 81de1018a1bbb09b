<script setup lang="ts">
// Where guests are placed, and how much they get: rules in order, plans in sentences.
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, got, type PlanFull } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import { useUndo } from '../../use/useUndo'
import PlanForm from './PlanForm.vue'
import RuleList from './RuleList.vue'

const reading = useReading(() => got(api.GET('/api/rules')))
const { found: placement, load } = reading
const copied = ref<PlanFull | null>(null)
const { isBusy, problem, act } = useAct()
const { last, did, undo } = useUndo()
const live = useLive()
const route = useRoute()
const router = useRouter()
const open = computed(() => (route.query.plan as string | undefined) ?? null)

const go = (plan: string | null) => router.replace({ query: plan ? { plan } : {} })
async function done(says: string, back: () => Promise<unknown>): Promise<void> {
  copied.value = null
  did(says, async () => {
    const isBack = await act(() => back().then(() => true))
    await load()
    return isBack === true
  })
  await load()
  void go(null)
}
/** What is put back: all but what follows from it. */
function limitsOf(plan: PlanFull) {
  const { name, seconds, octets, idle_seconds, devices, use_within_days, down_bps, up_bps, hours } = plan
  return { name, seconds, octets, idle_seconds, devices, use_within_days, down_bps, up_bps, hours }
}
const which = (plan: PlanFull) => ({ path: { plan: plan.id } })
const added = (plan: PlanFull) =>
  done(`${plan.name} was added.`, () => got(api.DELETE('/api/plans/{plan}', { params: which(plan) })))
const changed = (before: PlanFull, after: PlanFull) =>
  done(`${after.name} is now: ${after.sentence} It was: ${before.sentence}`, () =>
    got(api.PUT('/api/plans/{plan}', { params: which(before), body: limitsOf(before) })),
  )
const removed = (plan: PlanFull) =>
  done(`${plan.name} was removed.`, () => got(api.POST('/api/plans/{plan}/restore', { params: which(plan) })))
function copy(plan: PlanFull): void {
  copied.value = plan
  void go('new')
}
function close(): void {
  copied.value = null
  void go(null)
}

onMounted(load)
watch(() => live.now?.line?.id, load)
useKeys({ Escape: close, a: () => void go('new'), u: () => void undo() })
</script>

<template>
  <div class="room">
    <h1 class="away">Rules and plans</h1>
    <ReadingState :of="reading" />
    <ProblemNote :problem="problem" />
    <template v-if="placement">
      <p v-if="last" role="status" class="did">
        {{ last.says }}
        <v-btn v-if="last.back" size="x-small" :disabled="isBusy" @click="undo">Undo<kbd>u</kbd></v-btn>
      </p>
      <RuleList :placement="placement" @changed="(now) => (placement = now)" @did="did" />
      <section aria-label="Plans" class="plans">
        <div class="row">
          <h2>Plans</h2>
          <v-btn class="changes" size="x-small" @click="go('new')">Add plan<kbd>a</kbd></v-btn>
        </div>
        <PlanForm
          v-if="open === 'new'"
          :key="copied?.id ?? 0"
          :plan="null"
          :copied="copied"
          @saved="added"
          @close="close"
        />
        <ul>
          <li v-for="plan in placement.plans" :key="plan.id" :class="{ on: open === String(plan.id) }">
            <div class="line">
              <button class="name" @click="go(open === String(plan.id) ? null : String(plan.id))">
                {{ plan.name }}
              </button>
              <span class="sentence">{{ plan.sentence }}</span>
              <span class="soft counts">
                <router-link
                  v-if="plan.inside"
                  :to="{ path: '/guests', query: { plan: plan.id } }"
                  title="Those of them who are here"
                  >{{ plan.inside }} in by it</router-link
                >{{ plan.inside && plan.unused ? ', ' : ''
                }}{{ plan.unused ? `${plan.unused} not used yet` : '' }}
              </span>
            </div>
            <PlanForm
              v-if="open === String(plan.id)"
              :plan="plan"
              :copied="null"
              @saved="(now) => changed(plan, now)"
              @removed="removed(plan)"
              @copy="copy"
              @close="close"
            />
          </li>
        </ul>
        <p v-if="!placement.plans.length" class="empty">
          No plan yet. A plan says how long, how much and on how many devices; vouchers are issued with one.
        </p>
      </section>
    </template>
  </div>
</template>

<style scoped>
.plans {
  margin-top: 34px;
}
.did {
  position: sticky;
  top: var(--top);
  z-index: 5;
  margin: 0 0 10px;
  padding: 8px 10px;
  border-radius: 8px;
  background: rgb(var(--v-theme-tint));
}
.row {
  margin-bottom: 4px;
}
.row h2 {
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
li.on {
  border-left: 3px solid rgb(var(--v-theme-primary));
  padding-left: 12px;
}
.line {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr) auto;
  gap: 16px;
  align-items: baseline;
  padding: 8px 0;
}
.name {
  text-align: left;
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
}
.counts {
  font-size: 14px;
}
@media (max-width: 700px) {
  .line {
    grid-template-columns: 1fr;
    gap: 2px;
  }
}
</style>
