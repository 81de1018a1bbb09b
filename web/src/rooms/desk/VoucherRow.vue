<script setup lang="ts">
import type { Voucher } from '../../api/client'
import { amount, useTimes } from '../../use/useTimes'
import { voucherWords } from '../../parts/words'

const props = defineProps<{ voucher: Voucher; busy: boolean; isNew?: boolean }>()
const emit = defineEmits<{ give: [seconds: number]; withdraw: [] }>()
const times = useTimes()
const GIFTS = [
  [1800, '30 min'],
  [3600, '1 h'],
  [7200, '2 h'],
  [86400, '1 day'],
] as const
const isOver = () => ['withdrawn', 'expired'].includes(props.voucher.state)
</script>

<template>
  <tr :class="{ fresh: isNew }">
    <td class="mono code">{{ voucher.code }}</td>
    <td>
      <span class="pill" :class="voucher.state">{{ voucherWords(voucher) }}</span>
      <span v-if="voucher.devices_in" class="soft">
        on {{ voucher.devices_in }} device{{ voucher.devices_in > 1 ? 's' : '' }}</span
      >
    </td>
    <td class="soft">
      <template v-if="voucher.until">
        <span :title="times.exact(voucher.until)">until {{ times.clock(voucher.until) }}</span>
      </template>
      <template v-else-if="voucher.must_start_by && voucher.state === 'fresh'">
        <span :title="times.exact(voucher.must_start_by)"
          >use by {{ times.clock(voucher.must_start_by) }}</span
        >
      </template>
    </td>
    <td class="soft num">{{ voucher.octets_used ? `${amount(voucher.octets_used)} used` : '' }}</td>
    <td class="acts">
      <template v-if="!isOver()">
        <v-menu>
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" size="x-small" :disabled="busy" :aria-label="`Give time to ${voucher.code}`">
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
          :aria-label="`Withdraw ${voucher.code}`"
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
