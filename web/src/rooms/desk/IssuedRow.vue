<script setup lang="ts">
import { computed, ref } from 'vue'

import type { ApiProblem, Issued } from '../../api/client'
import { useSession } from '../../stores/session'
import { amount, useTimes } from '../../use/useTimes'
import { issuedWords } from '../../parts/words'
import SendFields from './SendFields.vue'
import { sentTo } from './wish'

const props = defineProps<{
  issued: Issued
  busy: boolean
  isNew?: boolean
  isPicked: boolean
  sends: string[]
  problem: ApiProblem | null
}>()
const emit = defineEmits<{
  pick: []
  renew: []
  forget: []
  send: [to: NonNullable<ReturnType<typeof sentTo>>]
}>()
const send = ref({ to: props.issued.sent?.to ?? '', lang: props.issued.sent?.lang ?? ('en' as const) })
const asksTo = ref(false)
function goSend(): void {
  const to = sentTo(send.value.to, send.value.lang)
  if (!to) return
  asksTo.value = false
  emit('send', to)
}
const sentWords = computed(() => {
  const sent = props.issued.sent
  if (!sent) return ''
  if (sent.state === 'sent') return `sent to ${sent.to}`
  return sent.state === 'failed'
    ? `could not be sent to ${sent.to}: ${sent.answer}`
    : `on its way to ${sent.to}`
})
const times = useTimes()
const session = useSession()
const begins = computed(() => {
  const since = props.issued.valid_from
  return since && since > times.now.value ? since : null
})
const isOver = () => ['withdrawn', 'expired'].includes(props.issued.state)
</script>

<template>
  <tr :class="{ fresh: isNew, picked: isPicked }">
    <td v-if="session.may('help')" class="pick">
      <input type="checkbox" :checked="isPicked" :aria-label="`Pick ${issued.code}`" @change="emit('pick')" />
    </td>
    <td class="mono code">{{ issued.code }}</td>
    <td>
      <span class="pill" :class="issued.state">{{ issuedWords(issued) }}</span>
      <span v-if="issued.devices_in" class="soft">
        on {{ issued.devices_in }} device{{ issued.devices_in > 1 ? 's' : '' }}</span
      ><span v-if="issued.devices_away" class="soft">, {{ issued.devices_away }} of them away</span>
      <span v-if="sentWords" class="sent" :class="issued.sent?.state">{{ sentWords }}</span>
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
      <template v-if="!isOver() && session.may('help')">
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
        <v-menu v-if="sends.length" v-model="asksTo" :close-on-content-click="false">
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" size="x-small" :disabled="busy" :aria-label="`Send ${issued.code}`">
              {{ issued.sent ? 'Send again' : 'Send' }}
            </v-btn>
          </template>
          <form class="to" @submit.prevent="goSend">
            <SendFields v-model="send" :sends="sends" :problem="problem" />
            <v-btn type="submit" size="small" color="primary" variant="flat" :disabled="busy || !send.to"
              >Send</v-btn
            >
          </form>
        </v-menu>
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
.pick {
  width: 30px;
}
.picked td {
  background: rgb(var(--v-theme-tint));
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
.sent {
  display: block;
  font-size: 13px;
  color: rgb(var(--v-theme-soft));
}
.sent.failed {
  color: rgb(var(--v-theme-barred));
  white-space: normal;
}
.to {
  display: grid;
  gap: 12px;
  width: 22em;
  max-width: 90vw;
  padding: 16px 16px 12px;
  background: rgb(var(--v-theme-surface));
  border: 1px solid rgb(var(--v-theme-hair));
  border-radius: 10px;
}
.fresh .code {
  background: rgb(var(--v-theme-tint));
}
@container (max-width: 700px) {
  tr {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 0 12px;
    padding: 4px 0;
    border-bottom: 1px solid rgb(var(--v-theme-hair));
  }
  tr > td {
    border: 0;
    height: auto;
    padding: 2px 0;
    white-space: normal;
  }
  .pick,
  .acts {
    width: auto;
  }
  .acts {
    text-align: left;
  }
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
