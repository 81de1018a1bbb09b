<script lang="ts">
export type Column =
  'state' | 'who' | 'how' | 'since' | 'until' | 'left' | 'used' | 'today' | 'rate' | 'where'
</script>

<script setup lang="ts">
// A page of guests as a table; the heads sort, a row opens its dossier.
import { computed } from 'vue'
import { useRouter } from 'vue-router'

import type { Guest } from '../../api/client'
import StateMark from '../../parts/StateMark.vue'
import { byWords, stateWords } from '../../parts/words'
import { amount, rate, useTimes } from '../../use/useTimes'

defineProps<{
  rows: Guest[]
  sortBy: Column
  isDown: boolean
  open: string | null
  chosen: Map<string, Guest>
  mayChoose: boolean
}>()
const emit = defineEmits<{ sort: [column: Column]; open: [guest: Guest]; choose: [guest: Guest] }>()
const COLUMNS: [Column, string][] = [
  ['state', 'State'],
  ['who', 'Guest'],
  ['how', 'By'],
  ['since', 'Since'],
  ['until', 'Until'],
  ['left', 'Left'],
  ['used', 'Used'],
  ['today', 'Today'],
  ['rate', 'Rate now'],
  ['where', 'Where'],
]
const times = useTimes()
const router = useRouter()
/** Rows are drawn anew when theirs changed, and once a minute. */
const minute = computed(() => Math.floor(times.now.value / 60))
const hrefOf = (g: Guest) => router.resolve({ path: '/guests', query: { guest: idOf(g) } }).href
const idOf = (g: Guest) => `${g.mac}/${g.network}`
</script>

<template>
  <div class="scroll">
    <table class="list" :class="`by-${sortBy}`">
      <thead>
        <tr>
          <th v-if="mayChoose" class="pick"><span class="away">Pick</span></th>
          <th
            v-for="[column, word] in COLUMNS"
            :key="column"
            :class="column"
            :aria-sort="sortBy === column ? (isDown ? 'descending' : 'ascending') : 'none'"
          >
            <button @click="emit('sort', column)">
              {{ word }}<span aria-hidden="true">{{ sortBy === column ? (isDown ? ' ↓' : ' ↑') : '' }}</span>
            </button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="guest in rows"
          :key="idOf(guest)"
          v-memo="[guest, idOf(guest) === open, chosen.has(idOf(guest)), mayChoose, minute]"
          :class="{ open: idOf(guest) === open }"
          @click="emit('open', guest)"
        >
          <td v-if="mayChoose" class="pick" @click.stop>
            <input
              type="checkbox"
              :checked="chosen.has(idOf(guest))"
              :aria-label="`Pick ${guest.name || guest.mac}`"
              @change="emit('choose', guest)"
            />
          </td>
          <td class="state">
            <StateMark :state="guest.state" :going="guest.going" /> {{ stateWords(guest) }}
            <span
              v-if="(guest.typing_barred_until ?? 0) > times.now.value"
              class="unsure"
              title="Too many wrong codes"
              >no typing</span
            >
            <span v-if="guest.not_confirmed" class="unsure" :title="`${guest.where}: ${guest.not_confirmed}`"
              >not confirmed</span
            >
          </td>
          <td>
            <a class="mac" :href="hrefOf(guest)" @click.exact.stop.prevent="emit('open', guest)">
              <template v-if="guest.name">
                <b>{{ guest.name }}</b> <span class="mono soft short">{{ guest.short }}</span>
              </template>
              <span v-else class="mono">{{ guest.mac }}</span>
            </a>
          </td>
          <td class="how">{{ byWords(guest) }}</td>
          <td class="since" :title="times.exact(guest.since)">{{ times.clock(guest.since) }}</td>
          <td class="until">
            <span v-if="guest.until" :title="times.exact(guest.until)">{{ times.clock(guest.until) }}</span>
          </td>
          <td class="left">
            {{ guest.octets_left !== null ? amount(guest.octets_left) : '' }}
          </td>
          <td class="used">{{ guest.octets_used ? amount(guest.octets_used) : '' }}</td>
          <td class="today">{{ guest.octets_today ? amount(guest.octets_today) : '' }}</td>
          <td class="rate" title="Both ways, between the last two reports">
            {{ guest.bits_per_s && guest.state === 'inside' ? rate(guest.bits_per_s) : '' }}
          </td>
          <td class="where">{{ guest.where }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  position: relative;
  container-type: inline-size;
}
.pick {
  width: 28px;
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover {
  background: rgb(var(--v-theme-tint));
}
tbody tr.open {
  background: rgb(var(--v-theme-tint));
  box-shadow: inset 3px 0 rgb(var(--v-theme-primary));
}
.mac {
  text-decoration: none;
  font-size: 13.5px;
  color: inherit;
}
.mac:hover {
  text-decoration: underline;
}
.left,
.used,
.today,
.rate {
  text-align: right;
  white-space: nowrap;
  padding-right: 16px !important;
}
.unsure {
  border-bottom: 2px dotted rgb(var(--v-theme-door));
  margin-left: 6px;
  font-size: 13px;
}
/* As many columns as there is room for, and always the one that is sorted by. */
@container (max-width: 1180px) {
  .left,
  .where {
    display: none;
  }
}
@container (max-width: 1060px) {
  .today {
    display: none;
  }
}
@container (max-width: 960px) {
  .used {
    display: none;
  }
}
@container (max-width: 900px) {
  .how {
    display: none;
  }
}
@container (max-width: 640px) {
  .rate {
    display: none;
  }
}
@container (max-width: 480px) {
  .since,
  .until,
  .short {
    display: none;
  }
  .state {
    white-space: normal;
  }
}
.by-since .since,
.by-until .until,
.by-how .how,
.by-left .left,
.by-used .used,
.by-today .today,
.by-rate .rate,
.by-where .where {
  display: table-cell;
}
</style>
