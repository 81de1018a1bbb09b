<script setup lang="ts">
// What this one has besides its plan: limits of its own, how it is proved, words, a note, a price.
import type { ApiProblem, Plan } from '../../api/client'
import AmountField from '../../parts/AmountField.vue'
import { DATA, RATES, TIMES } from '../../parts/amounts'
import GroupBox from '../../parts/issuing/GroupBox.vue'
import { HOLDER_KINDS, SEATS, seatsHint } from '../../parts/issuing/terms'
import type { Wish } from './wish'

const wish = defineModel<Wish>({ required: true })
const props = defineProps<{ plan: Plan | null; problem: ApiProblem | null; sends: string[] }>()
const LANGUAGES = [
  { value: 'en', title: 'English' },
  { value: 'de', title: 'Deutsch' },
]
const LENGTHS = [6, 7, 8, 9, 10, 11, 12, 13, 14].map((n) => ({ value: n, title: `${n} signs` }))
const fault = (name: string) => (props.problem?.field === name ? [props.problem.message] : [])
</script>

<template>
  <div class="more">
    <template v-if="wish.what === 'account'">
      <v-text-field
        v-model="wish.name"
        label="Name to log in with"
        maxlength="60"
        autocapitalize="none"
        placeholder="ines.harwood"
        persistent-placeholder
        required
        hint="Capitals do not matter; no blanks."
        persistent-hint
        :error-messages="fault('name')"
      />
      <v-text-field
        v-model="wish.password"
        class="mono"
        label="Password"
        maxlength="128"
        autocomplete="off"
        placeholder="one is proposed"
        persistent-placeholder
        hint="Shown once. The guest may change it on the page."
        persistent-hint
        :error-messages="fault('password')"
      />
      <v-checkbox
        v-model="wish.forChap"
        label="Also for access devices that ask by CHAP"
        hint="Weaker: the password is then kept readable, under the key file."
        persistent-hint
      />
    </template>
    <v-text-field
      v-if="wish.what === 'guest_pass'"
      v-model="wish.code"
      class="mono"
      label="Code"
      maxlength="40"
      placeholder="one is proposed"
      persistent-placeholder
      hint="Or choose one: 6 letters and digits at least."
      persistent-hint
      :error-messages="fault('code')"
    />
    <template v-if="wish.what === 'passphrase'">
      <v-select v-model="wish.kind" label="It is for" :items="HOLDER_KINDS" />
      <v-text-field
        v-model="wish.code"
        class="mono"
        label="Passphrase"
        maxlength="63"
        placeholder="one is drawn"
        persistent-placeholder
        hint="Or choose one: 8 to 63 signs of a plain keyboard."
        persistent-hint
        :error-messages="fault('passphrase')"
      />
      <GroupBox v-model="wish.hasGroup" :faults="fault('is_group')" />
    </template>
    <v-select
      v-if="wish.what === 'voucher'"
      v-model="wish.length"
      label="Length of the code"
      :items="LENGTHS"
      :error-messages="fault('length')"
    />
    <v-select v-if="wish.to" v-model="wish.lang" label="Message written in" :items="LANGUAGES" />
    <AmountField
      v-model="wish.time"
      label="For, from first use"
      name="seconds"
      none="as the plan says"
      :units="TIMES"
      :problem="problem"
    />
    <AmountField
      v-model="wish.data"
      label="Data"
      name="octets"
      none="as the plan says"
      :units="DATA"
      :problem="problem"
    />
    <AmountField
      v-model="wish.down"
      label="Rate to the guest"
      name="down_bps"
      none="as the plan says"
      :units="RATES"
      :problem="problem"
    />
    <AmountField
      v-model="wish.up"
      label="Rate from the guest"
      name="up_bps"
      none="as the plan says"
      :units="RATES"
      :problem="problem"
    />
    <v-text-field
      v-model="wish.since"
      label="Good from"
      type="datetime-local"
      hint="Empty: at once."
      persistent-hint
      persistent-placeholder
      :error-messages="fault('since')"
    />
    <v-select
      v-model="wish.seats"
      label="Devices are counted"
      :items="SEATS"
      :hint="seatsHint(wish.seats)"
      persistent-hint
    />
    <v-text-field
      v-model="wish.words"
      class="wide"
      label="Words to the guest"
      maxlength="200"
      hint="They read them on the slip, in the message and on the page."
      persistent-hint
      :error-messages="fault('words')"
    />
    <v-text-field
      v-model="wish.price"
      label="Price of each"
      inputmode="decimal"
      placeholder="none"
      persistent-placeholder
      :error-messages="fault('price')"
    />
    <v-text-field
      v-model="wish.note"
      class="wide"
      label="Note for us"
      maxlength="500"
      hint="No guest ever sees it."
      persistent-hint
      :error-messages="fault('note')"
    />
  </div>
</template>

<style scoped>
.more {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  align-items: start;
  gap: 16px 14px;
  margin-top: 16px;
}
.wide {
  grid-column: span 2;
}
@media (max-width: 1000px) {
  .more {
    grid-template-columns: 1fr;
  }
  .wide {
    grid-column: auto;
  }
}
</style>
