<script setup lang="ts">
// A guest network as the way a guest walks, left to right; width follows the number of devices.
import { computed, ref } from 'vue'

import type { Stream } from '../api/client'
import { useWidth } from '../use/useWidth'
import StateMark from './StateMark.vue'

const triedWords = (ways: string[]) => (ways.includes('voucher') ? 'tried a code' : 'tried to get in')
const props = defineProps<{ stream: Stream; tall?: boolean; low?: boolean }>()
const frame = ref<HTMLElement | null>(null)
const width = useWidth(frame)

const tried = computed(() => triedWords(props.stream.ways_in))
/** Where devices have passphrases nobody walks through a page: they are in, or they are not. */
const outside = computed(() => (props.stream.has_page ? 'at the door' : 'not let in'))
const HEIGHT = computed(() => (props.tall ? 216 : props.low ? 112 : 150))
const MIDDLE = computed(() => (props.tall ? 92 : props.low ? 50 : 62))
const STEPS = [0, 0.17, 0.34, 0.52, 0.68, 0.86]
const at = (step: number) => Math.round((STEPS[step] ?? 0) * width.value)

/** Pixels for a number of devices: the square root, with a least and a greatest width. */
function thick(count: number): number {
  const scale = props.tall ? 11 : 6
  return count === 0 ? 2 : Math.min(props.tall ? 74 : 40, Math.max(5, scale * Math.sqrt(count)))
}

function band(x0: number, y0: number, h0: number, x1: number, y1: number, h1: number): string {
  const bend = (x1 - x0) / 2
  const [t0, t1, b0, b1] = [y0 - h0 / 2, y1 - h1 / 2, y0 + h0 / 2, y1 + h1 / 2]
  return (
    `M${x0} ${t0}C${x0 + bend} ${t0} ${x1 - bend} ${t1} ${x1} ${t1}` +
    `V${b1}C${x1 - bend} ${b1} ${x0 + bend} ${b0} ${x0} ${b0}Z`
  )
}

const insideCount = computed(() => props.stream.inside.reduce((sum, role) => sum + role.count, 0))
/** Where the two colours meet: as wide as what comes in, and never wider than what is there. */
const mouth = computed(() => Math.min(thick(insideCount.value), Math.max(6, thick(props.stream.code_tried))))

const door = computed(() => {
  const y = MIDDLE.value
  const [all, opened, tried] = [
    thick(props.stream.at_door),
    thick(props.stream.page_opened),
    thick(props.stream.code_tried),
  ]
  return [
    band(at(0), y, all, at(1), y, opened),
    band(at(1), y, opened, at(2), y, tried),
    band(at(2), y, tried, at(3), y, mouth.value),
  ]
})

const roles = computed(() => {
  const widths = props.stream.inside.map((role) => thick(role.count))
  const gap = 26
  const total = widths.reduce((a, b) => a + b, 0) + gap * Math.max(0, widths.length - 1)
  let y = MIDDLE.value - total / 2
  const whole = mouth.value
  let from = MIDDLE.value - whole / 2
  return props.stream.inside.map((role, n) => {
    const h = widths[n] ?? 2
    const share = insideCount.value ? (whole * role.count) / insideCount.value : 2
    const row = { ...role, h, y: y + h / 2, path: band(at(3), from + share / 2, share, at(4), y + h / 2, h) }
    from += share
    y += h + gap
    return row
  })
})
const arm = (x: number, y: number) => `M${x} ${y}c6 26 22 34 44 34`
const id = computed(() => `turn-${props.stream.id}`)
const query = (state: string) => ({ path: '/guests', query: { state, network: String(props.stream.id) } })
/** On a phone the picture would be cut off: the same counts as lines. */
const few = computed((): [number, string, string][] => [
  [props.stream.at_door, outside.value, 'at_door'],
  ...(props.stream.has_page
    ? ([
        [props.stream.page_opened, 'opened the page', 'at_door'],
        [props.stream.code_tried, tried.value, 'at_door'],
      ] as [number, string, string][])
    : []),
  ...props.stream.inside.map((role): [number, string, string] => [role.count, role.role, 'inside']),
  ...(props.stream.held ? [[props.stream.held, 'held', 'held'] as [number, string, string]] : []),
  ...(props.stream.barred ? [[props.stream.barred, 'barred', 'barred'] as [number, string, string]] : []),
])
const barredFrom = computed(() => thick(props.stream.code_tried) / 2 + MIDDLE.value)
const heldFrom = computed(() => MIDDLE.value + Math.max(4, thick(insideCount.value) / 2))
</script>

<template>
  <section class="stream" :aria-label="`${stream.name}: the way in`">
    <div class="name">
      <h2>{{ stream.name }}</h2>
      <p v-if="stream.ssid !== stream.name" class="soft">{{ stream.ssid }}</p>
      <p class="soft">by {{ stream.ways_in.join(', ') || 'no way in yet' }}</p>
    </div>
    <div ref="frame" class="frame" :style="{ height: `${HEIGHT}px` }">
      <svg :viewBox="`0 0 ${width} ${HEIGHT}`" :width="width" :height="HEIGHT" aria-hidden="true">
        <defs>
          <linearGradient :id="id">
            <stop offset="0" class="from-door" />
            <stop offset="1" class="to-inside" />
          </linearGradient>
        </defs>
        <path :d="door[0]" class="door" />
        <path :d="door[1]" class="door" />
        <path :d="door[2]" :fill="`url(#${id})`" />
        <g v-for="role in roles" :key="role.role" class="inside">
          <path :d="role.path" />
          <rect :x="at(4)" :y="role.y - role.h / 2" :width="width * 0.86 - at(4)" :height="role.h" />
        </g>
        <path v-if="!roles.length" :d="band(at(3), MIDDLE, 2, at(5), MIDDLE, 2)" class="inside" />
        <path v-if="stream.barred" :d="arm(at(2) + 20, barredFrom)" class="arm barred" />
        <path v-if="stream.held" :d="arm(at(4) + 30, heldFrom)" class="arm held" />
      </svg>
      <router-link
        class="count ink-door"
        :to="query('at_door')"
        :style="{ left: `${at(0)}px`, top: `${MIDDLE - thick(stream.at_door) / 2}px` }"
      >
        <b>{{ stream.at_door }}</b> {{ outside }}
      </router-link>
      <router-link
        v-if="stream.has_page"
        class="count ink-door"
        :to="query('at_door')"
        :style="{ left: `${at(1)}px`, top: `${MIDDLE - thick(stream.page_opened) / 2}px` }"
      >
        <b>{{ stream.page_opened }}</b> opened the page
      </router-link>
      <router-link
        v-if="stream.has_page"
        class="count ink-door"
        :to="query('at_door')"
        :style="{ left: `${at(2)}px`, top: `${MIDDLE - thick(stream.code_tried) / 2}px` }"
      >
        <b>{{ stream.code_tried }}</b> {{ tried }}
      </router-link>
      <router-link
        v-for="role in roles"
        :key="role.role"
        class="count ink-inside"
        :to="query('inside')"
        :style="{ left: `${at(4)}px`, top: `${role.y - role.h / 2}px` }"
      >
        <b>{{ role.count }}</b> {{ role.role }}
      </router-link>
      <span
        v-if="!roles.length"
        class="count ink-inside"
        :style="{ left: `${at(4)}px`, top: `${MIDDLE - 1}px` }"
        ><b>0</b> inside</span
      >
      <router-link
        v-if="stream.barred"
        class="side"
        :to="query('barred')"
        :style="{ left: `${at(2) + 70}px`, top: `${barredFrom + 22}px` }"
      >
        <StateMark state="barred" /> {{ stream.barred }} barred
      </router-link>
      <router-link
        v-if="stream.held"
        class="side"
        :to="query('held')"
        :style="{ left: `${at(4) + 80}px`, top: `${heldFrom + 22}px` }"
      >
        <StateMark state="held" /> {{ stream.held }} held
      </router-link>
      <span class="gone soft" :style="{ left: `${at(5) + 14}px`, top: `${MIDDLE - 20}px` }">
        <b>{{ stream.left_last_hour }}</b> left in<br />the last hour
      </span>
    </div>
    <ul class="few">
      <li v-for="[count, word, state] in few" :key="word">
        <router-link :to="query(state)"
          ><b>{{ count }}</b> {{ word }}</router-link
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.stream {
  display: grid;
  grid-template-columns: 190px 1fr;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.name {
  padding-top: 26px;
}
.name h2 {
  font-size: 19px;
}
.name p {
  margin: 0;
  font-size: 14px;
}
.frame {
  /* Its width is measured after the first frame. */
  overflow-x: clip;
  position: relative;
  min-width: 0;
}
.frame > svg {
  display: block;
}
.door {
  fill: rgb(var(--v-theme-door-band));
}
.inside {
  fill: rgb(var(--v-theme-inside-band));
}
.from-door {
  stop-color: rgb(var(--v-theme-door-band));
}
.to-inside {
  stop-color: rgb(var(--v-theme-inside-band));
}
.arm {
  fill: none;
  stroke-width: 5;
  stroke-linecap: round;
}
.arm.barred {
  stroke: rgb(var(--v-theme-barred-band));
}
.arm.held {
  stroke: rgb(var(--v-theme-held-band));
}
.count {
  position: absolute;
  transform: translateY(-100%);
  text-decoration: none;
  white-space: nowrap;
  font-size: 14px;
  padding: 0 0 3px;
}
.count b {
  font-size: 19px;
  font-family: var(--mono);
  margin-right: 2px;
}
a.count:hover,
a.side:hover {
  text-decoration: underline;
  text-underline-offset: 4px;
}
.ink-door {
  color: rgb(var(--v-theme-on-background));
}
.ink-inside {
  color: rgb(var(--v-theme-on-background));
}
.side {
  position: absolute;
  white-space: nowrap;
  text-decoration: none;
  font-size: 14px;
  color: rgb(var(--v-theme-on-background));
}
.gone {
  position: absolute;
  font-size: 14px;
  line-height: 1.3;
  white-space: nowrap;
}
.gone b {
  font-size: 17px;
  font-family: var(--mono);
}
.few {
  display: none;
}
@media (max-width: 900px) {
  .stream {
    grid-template-columns: 1fr;
  }
  .name {
    padding-top: 12px;
  }
}
@media (max-width: 700px) {
  .frame {
    display: none;
  }
  .few {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 2px 16px;
    list-style: none;
    margin: 8px 0 14px;
    padding: 0;
    font-size: 14.5px;
  }
  .few a {
    color: inherit;
    text-decoration: none;
  }
  .few b {
    font-family: var(--mono);
  }
}
</style>
