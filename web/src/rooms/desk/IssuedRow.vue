<script setup lang="ts">
import { computed } from 'vue'

import type { Issued } from '../../api/client'
import { amount, useTimes } from '../../use/useTimes'
import { issuedWords } from '../../parts/words'

const props = defineProps<{ issued: Issued; busy: boolean; isNew?: boolean }>()
const emit = defineEmits<{ give: [seconds: number]; withdraw: []; renew: []; forget: [] }>()
const times = useTimes()
const GIFTS = [
  [1800, '30 min'],
  [3600, '1 h'],
  [7200, '2 h'],
  [86400, '1 day'],
] as const
const begins = computed(() => {
  const since = props.issued.valid_from
  return since && since > times.now.value ? since : null
})
const isOver = () => ['withdrawn', 'expired'].includes(props.issued.state)
</script>

<template>
  <tr :class="{ fresh: isNew }">
    <td class="mono code">{{ issued.code }}</td>
    <td>
      <span class="pill" :class="issued.state">{{ issuedWords(issued) }}</span>
      <span v-if="issued.devices_in" class="soft">
        on {{ issued.devices_in }} device{{ issued.devices_in > 1 ? 's' : '' }}</span
      ><span v-if="issued.devices_away" class="soft">, {{ issued.devices_away }} of them away</span>
    </td>
    <td class="soft">
      <span v-if="begins" :title="times.exact(begins)">from {{ times.clock(begins) }}</span>
      <template v-else-if="issued.until">
        <span :title="times.exact(issued.until)">until {{ times.clock(issued.until) }}</span>
      </template>
      <template v-else-if="issued.must_start_by && issued.state === 'fresh'">
        <span :title="times.exact(issued.must_start_by)">use by {{ times.clock(issued.must_start_by) }}</span>
      </template>
    </td>
    <td class="soft num">{{ issued.octets_used ? `${amount(issued.octets_used)} used` : '' }}</td>
    <td class="acts">
      <template v-if="!isOver()">
        <v-btn
          v-if="issued.devices_away"
          size="x-small"
          :disabled="busy"
          title="Who has left is asked again when it comes back; who is here stays"
          :aria-label="`Forget the devices of ${issued.code} that have left`"
          @click="emit('forget')"
        >
          Forget
        </v-btn>
        <v-btn
          v-if="issued.way === 'account'"
          size="x-small"
          :disabled="busy"
          title="For whoever forgot theirs; the one before lets nobody in any more"
          @click="emit('renew')"
        >
          New password
        </v-btn>
        <v-menu>
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" size="x-small" :disabled="busy" :aria-label="`Give time to ${issued.code}`">
              Give time
            </v-btn>
          </template>
          <v-list density="compact">
            <v-list-item
              v-for="[seconds, word] in GIFTS"
              :key="seconds"
              :title="word"
              @click="emit('give', seconds)"
            />
          </v-list>
        </v-menu>
        <v-btn
          size="x-small"
          variant="text"
          :disabled="busy"
          :aria-label="`Withdraw ${issued.code}`"
          @click="emit('withdraw')"
        >
          Withdraw
        </v-btn>
      </template>
    </td>
  </tr>
</template>

<style scoped>
td {
  height: 36px;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 0 10px 0 0;
  white-space: nowrap;
  font-size: 14px;
}
.code {
  font-weight: 700;
}
.num {
  text-align: right;
}
.acts {
  text-align: right;
  padding-right: 0;
  width: 1%;
}
.acts .v-btn {
  margin-left: 6px;
}
.fresh .code {
  background: rgb(var(--v-theme-tint));
}
.pill.running {
  font-weight: 700;
}
.pill.used_up,
.pill.expired,
.pill.withdrawn {
  text-decoration: line-through;
  text-decoration-thickness: 1px;
  color: rgb(var(--v-theme-soft));
}
</style>
