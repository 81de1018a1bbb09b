<script setup lang="ts">
// The text gateway: the request that it wants, where it may write to, and what that costs.
import { ref } from 'vue'

import { api, got, type Call, type TextGateway } from '../../api/client'
import CallFields from '../../parts/CallFields.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import RemoveButton from '../../parts/RemoveButton.vue'
import TestLine from './TestLine.vue'
import { useAct } from '../../use/useAct'

const props = defineProps<{ gateway: TextGateway | null }>()
const emit = defineEmits<{ saved: []; close: [] }>()
const { isBusy, problem, act, fault } = useAct()
const FIRST: Call = {
  method: 'POST',
  url: '',
  headers: [
    ['Authorization', 'Bearer {secret}'],
    ['Content-Type', 'application/json'],
  ],
  body: '{"to": "{to}", "text": "{text}"}',
  good_status: [200, 201, 202],
  good_text: '',
}
const request = ref<Call>(JSON.parse(JSON.stringify(props.gateway?.call ?? FIRST)) as Call)
const secret = ref('')
const price = ref(String(props.gateway?.price ?? 0))
const currency = ref(props.gateway?.currency ?? 'EUR')
const countries = ref(props.gateway?.countries.join(', ') ?? '')
const day = ref(String(props.gateway?.texts_day ?? 200))
const kept = props.gateway?.has_secret ? 'kept as it is' : 'none'
const wanted = () => ({
  call: request.value,
  secret: secret.value || null,
  price: Number(price.value),
  currency: currency.value,
  countries: countries.value
    .split(/[\s,;]+/)
    .filter(Boolean)
    .map((c) => c.toUpperCase()),
  texts_day: Number(day.value),
})

async function save(): Promise<void> {
  if (await act(() => got(api.PUT('/api/text', { body: wanted() })))) emit('saved')
}
const test = (to: string) => got(api.POST('/api/text/test', { body: { gateway: wanted(), to } }))
</script>

<template>
  <form class="sheet" aria-label="The text gateway" @submit.prevent="save">
    <CallFields v-model="request" title="Its request" name="url" :problem="problem" />
    <p class="soft words">
      <code>{to}</code> is the number as +43123456, <code>{to_bare}</code> the same without its plus sign,
      <code>{text}</code> what it says, <code>{id}</code> the same in each try, <code>{secret}</code> as
      below.
    </p>
    <div class="columns">
      <v-text-field
        v-model="secret"
        label="Secret of the gateway"
        type="password"
        autocomplete="new-password"
        :placeholder="kept"
        persistent-placeholder
      />
      <v-text-field
        v-model="countries"
        label="Countries that may be written to"
        placeholder="AT, DE"
        persistent-placeholder
        required
        hint="Two letters each. The first one is assumed for numbers that name none."
        persistent-hint
        :error-messages="fault('countries')"
      />
      <div class="pair">
        <v-text-field
          v-model="price"
          label="Price of one"
          inputmode="decimal"
          :error-messages="fault('price')"
        />
        <v-text-field v-model="currency" label="in" maxlength="3" :error-messages="fault('currency')" />
      </div>
      <v-text-field
        v-model="day"
        label="At most on one day"
        inputmode="numeric"
        hint="Whatever happens, no day costs more than that."
        persistent-hint
        :error-messages="fault('texts_day')"
      />
    </div>
    <TestLine label="Try it: text message to" :send="test" />
    <ProblemNote v-if="!problem?.field || ['body', 'headers'].includes(problem.field)" :problem="problem" />
    <div class="acts">
      <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">Save</v-btn>
      <v-btn variant="text" @click="emit('close')">Back</v-btn>
      <RemoveButton
        v-if="gateway"
        :remove="() => api.DELETE('/api/text')"
        label="Send no texts"
        @removed="emit('saved')"
      />
    </div>
  </form>
</template>

<style scoped>
.columns {
  margin: 12px 0 16px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 100px;
  gap: 12px;
}
.words {
  font-size: 14px;
  margin: 8px 0 0;
}
</style>
