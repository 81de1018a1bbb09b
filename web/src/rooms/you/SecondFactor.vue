<script setup lang="ts">
// The second factor: scanned, proved by a code, and then asked for at each sign-in.
import { ref } from 'vue'

import { api, got, type SecondBegun } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'

const session = useSession()
const { isBusy, problem, act, read, fault } = useAct()
const begun = ref<SecondBegun | null>(null)
const code = ref('')
const password = ref('')
const recovery = ref<string[]>([])
const isEnding = ref(false)

async function begin(): Promise<void> {
  begun.value = (await read(() => got(api.GET('/api/own/second')))) ?? null
}
async function prove(): Promise<void> {
  const given = { secret: begun.value?.secret ?? '', code: code.value, password: password.value }
  const made = await act(() => got(api.PUT('/api/own/second', { body: given })))
  if (!made) return
  recovery.value = made.codes
  begun.value = null
  code.value = ''
  password.value = ''
  await session.load()
}
async function end(): Promise<void> {
  const given = { password: password.value }
  if (!(await act(() => got(api.POST('/api/own/second/off', { body: given })).then(() => true)))) return
  isEnding.value = false
  password.value = ''
  recovery.value = []
  await session.load()
}
const has = () => session.session?.has_second
</script>

<template>
  <section aria-label="Second factor">
    <h2>Second factor</h2>
    <p class="soft">
      {{
        has()
          ? 'On: besides your password, six digits from your phone are asked for at each sign-in.'
          : 'Off. With it, a password that somebody saw over your shoulder opens nothing.'
      }}
    </p>
    <div v-if="recovery.length" class="note" role="status">
      <p>
        Recovery codes, for the day when the phone is not at hand. Each is good once; they are not shown
        again.
      </p>
      <ul class="mono codes">
        <li v-for="one in recovery" :key="one">{{ one }}</li>
      </ul>
      <v-btn size="x-small" variant="text" @click="recovery = []">Noted</v-btn>
    </div>
    <form v-if="begun" class="scan" aria-label="Turn it on" @submit.prevent="prove">
      <img :src="begun.qr" width="160" height="160" alt="QR code for an authenticator app" />
      <div class="stack">
        <p>
          1. Scan it with an authenticator app, or type <b class="mono">{{ begun.secret }}</b> into it.
        </p>
        <p>2. Type the six digits that it shows now.</p>
        <v-text-field
          v-model="code"
          class="mono"
          label="Six digits"
          inputmode="numeric"
          autocomplete="one-time-code"
          maxlength="12"
          :error-messages="fault('code')"
        />
        <p>3. Say that it is you.</p>
        <v-text-field
          v-model="password"
          label="Your password"
          type="password"
          autocomplete="current-password"
          :error-messages="fault('password')"
        />
        <div class="acts">
          <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy || !code || !password"
            >Turn it on</v-btn
          >
          <v-btn variant="text" @click="begun = null">Back</v-btn>
        </div>
      </div>
    </form>
    <form v-else-if="isEnding" class="row" aria-label="Turn it off" @submit.prevent="end">
      <v-text-field
        v-model="password"
        label="Your password"
        type="password"
        autocomplete="current-password"
        :error-messages="fault('password')"
      />
      <v-btn type="submit" :disabled="isBusy || !password">Turn it off</v-btn>
      <v-btn variant="text" @click="isEnding = false">Back</v-btn>
    </form>
    <div v-else class="acts">
      <v-btn v-if="has()" size="small" @click="isEnding = true">Turn it off</v-btn>
      <v-btn v-else size="small" @click="begin">Turn it on</v-btn>
    </div>
    <ProblemNote v-if="!problem?.field" :problem="problem" />
  </section>
</template>

<style scoped>
.scan {
  display: flex;
  flex-wrap: wrap;
  gap: 14px 22px;
  align-items: flex-start;
}
.scan img {
  background: #fff;
}
.scan p {
  margin: 0;
}
.scan .v-text-field {
  max-width: 200px;
}
.codes {
  columns: 2;
  max-width: 420px;
  padding-left: 0;
  list-style: none;
}
.row .v-text-field {
  max-width: 280px;
}
section {
  margin-top: 26px;
  max-width: 860px;
}
</style>
