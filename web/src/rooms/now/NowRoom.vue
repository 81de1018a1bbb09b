<script setup lang="ts">
import { ref } from 'vue'

import { postTo, type Attention } from '../../api/client'
import FirstPath from './FirstPath.vue'
import LogLines from '../../parts/LogLines.vue'
import NetworkStream from '../../parts/NetworkStream.vue'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useLive } from '../../stores/live'
import { useAct } from '../../use/useAct'
import { useLog } from '../../use/useLog'
import { useRooms } from '../../use/useRooms'
import { useSession } from '../../stores/session'

const live = useLive()
const session = useSession()
const { mayEnter } = useRooms()
const { reading, lines } = useLog()
const { isBusy, problem, act } = useAct()
const done = ref('')

async function mend(item: Attention): Promise<void> {
  if (!item.action) return
  const path = item.action
  done.value = ''
  if (await act(() => postTo(path))) done.value = 'Sent again.'
}
</script>

<template>
  <div class="room">
    <h1 class="away">Now</h1>
    <FirstPath v-if="live.now?.first_path.length" :steps="live.now.first_path" />
    <div v-if="live.now && live.now.streams.length" class="heads soft" aria-hidden="true">
      <span
        v-for="(word, at) in ['arrives', 'is asked', 'proves', 'is placed', 'stays', 'leaves']"
        :key="word"
        :style="{ left: `calc(190px + (100% - 190px) * ${[0, 0.17, 0.34, 0.52, 0.68, 0.875][at]})` }"
        >{{ word }}</span
      >
    </div>
    <NetworkStream
      v-for="stream in live.now?.streams"
      :key="stream.id"
      :stream="stream"
      :low="(live.now?.streams.length ?? 0) > 3"
      :tall="(live.now?.streams.length ?? 0) < 2"
    />
    <p v-if="live.now && !live.now.streams.length && !live.now.first_path.length" class="empty">
      No guest network has a name any more.
      <router-link to="/networks?edit=new">Add one in Networks</router-link>.
    </p>
    <div class="below">
      <section>
        <h2>Needs attention</h2>
        <ProblemNote :problem="problem" />
        <p v-if="done" class="soft" role="status">{{ done }}</p>
        <ul v-if="live.now?.attention.length" class="needs">
          <li v-for="item in live.now.attention" :key="item.text">
            <span class="flag" :class="{ grave: item.grave }" aria-hidden="true" />
            <div>
              <p>{{ item.text }}</p>
              <p class="soft">{{ item.mend }}</p>
            </div>
            <v-btn
              v-if="item.action && session.may('help')"
              size="small"
              :disabled="isBusy"
              @click="mend(item)"
            >
              Send again
            </v-btn>
            <v-btn v-else-if="item.link && mayEnter(item.link)" size="small" :to="item.link">{{
              item.kind === 'unknown_access_device' ? 'Add' : 'Open'
            }}</v-btn>
          </li>
        </ul>
        <p v-else-if="!live.now" class="soft calm" role="status">Loading…</p>
        <p v-else class="soft calm">Nothing. Every change that was asked for has been confirmed.</p>
      </section>
      <section>
        <h2>Just heard</h2>
        <ReadingState :of="reading" />
        <LogLines v-if="lines.length" :lines="lines.slice(0, 9)" />
        <p v-else-if="reading.found.value" class="soft calm">
          Nothing yet. What access devices, guests and staff do appears here as it happens.
        </p>
      </section>
    </div>
  </div>
</template>

<style scoped>
.heads {
  position: relative;
  height: 26px;
  font-size: 14px;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.heads span {
  position: absolute;
}
.below {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
  gap: 48px;
  margin-top: 26px;
}
.needs {
  list-style: none;
  padding: 0;
  margin: 4px 0 0;
}
.needs li {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.needs div {
  flex: 1;
}
.needs p {
  margin: 0;
  font-size: 14.5px;
}
.flag {
  width: 4px;
  align-self: stretch;
  background: rgb(var(--v-theme-hair));
  flex: none;
}
.flag.grave {
  background: rgb(var(--v-theme-barred));
}
.calm {
  padding: 8px 0;
  margin: 0;
}
@media (max-width: 900px) {
  .heads {
    display: none;
  }
  .below {
    grid-template-columns: 1fr;
    gap: 24px;
  }
}
</style>
