<script setup lang="ts">
// One access device: what was heard and dropped, its secret, and how to connect it.
import { mdiClose } from '@mdi/js'
import { computed, ref } from 'vue'

import { api, got, type AccessDevice, type Networks } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import { useAct } from '../../use/useAct'
import { useTimes } from '../../use/useTimes'
import DeviceForm from './DeviceForm.vue'
import PacketList from './PacketList.vue'
import RemoveButton from '../../parts/RemoveButton.vue'

const props = defineProps<{ device: AccessDevice; setup: Networks }>()
const emit = defineEmits<{
  changed: []
  close: []
  sheet: [network: number, secret: string | null]
  removed: []
}>()
const { isBusy, problem, act } = useAct()
const times = useTimes()
const isEditing = ref(false)
const madeSecret = ref<string | null>(null)
const network = ref(props.device.serves[0] ?? props.setup.networks[0]?.id ?? 0)
const served = computed(() =>
  props.setup.networks.filter((n) => props.device.serves.includes(n.id)).map((n) => n.name),
)
const changes = computed(() => Object.entries(props.device.changes))

function wasSaved(): void {
  isEditing.value = false
  emit('changed')
}
async function newSecret(): Promise<void> {
  const made = await act(() =>
    got(
      api.POST('/api/access-devices/{device}/secret', {
        params: { path: { device: props.device.id } },
        body: {},
      }),
    ),
  )
  if (!made) return
  madeSecret.value = made.secret
  emit('changed')
}
async function forget(): Promise<void> {
  if (
    await act(() =>
      got(
        api.POST('/api/access-devices/{device}/forget-old-secret', {
          params: { path: { device: props.device.id } },
        }),
      ),
    )
  ) {
    madeSecret.value = null
    emit('changed')
  }
}
</script>

<template>
  <aside class="panel" :aria-label="`Access device ${device.name}`">
    <header>
      <h1>{{ device.name }}</h1>
      <v-btn :icon="mdiClose" size="small" variant="text" aria-label="Close" @click="emit('close')" />
    </header>
    <DeviceForm
      v-if="isEditing"
      :device="device"
      :setup="setup"
      @saved="wasSaved"
      @close="isEditing = false"
    />
    <template v-else>
      <p class="lead">
        <span class="mono">{{ device.address }}</span> · {{ device.dialect_name }}
      </p>
      <div class="acts">
        <v-btn class="changes" size="small" @click="isEditing = true">Change</v-btn>
        <v-btn class="changes" size="small" :disabled="isBusy || device.has_old_secret" @click="newSecret"
          >New secret</v-btn
        >
        <v-btn v-if="device.has_old_secret" class="changes" size="small" :disabled="isBusy" @click="forget">
          Forget the old secret
        </v-btn>
        <RemoveButton
          :remove="
            () => api.DELETE('/api/access-devices/{device}', { params: { path: { device: device.id } } })
          "
          label="Remove"
          @removed="emit('removed')"
        />
      </div>
      <ProblemNote :problem="problem" />
      <p v-if="madeSecret" class="once">
        The new secret, shown this once: <strong class="mono">{{ madeSecret }}</strong>
      </p>
      <dl>
        <dt>Serves</dt>
        <dd>{{ served.join(', ') || 'no network: nobody gets in here' }}</dd>
        <dt>Last heard</dt>
        <dd>
          {{ device.last_heard ? times.ago(device.last_heard) : 'never'
          }}<template v-if="device.sources.length > 1">, at {{ device.sources.length }} addresses</template>
        </dd>
        <dt>Heard since the start</dt>
        <dd>
          {{ device.requests }} requests, {{ device.reports }} reports, {{ device.repeated }} repetitions
        </dd>
        <dt>Signing</dt>
        <dd>{{ device.signing_words }}</dd>
        <dt>Secret</dt>
        <dd>{{ device.secret_words }}</dd>
        <template v-if="device.clock_words"
          ><dt>Its clock</dt>
          <dd>{{ device.clock_words }}</dd></template
        >
        <dt>Changes</dt>
        <dd>
          <template v-if="changes.length"
            >{{ changes.map(([answer, n]) => `${n} × ${answer}`).join('; ')
            }}<template v-if="device.change_trip_ms !== null"
              >; the last answer took {{ device.change_trip_ms }} ms</template
            ></template
          >
          <template v-else>none asked for yet</template>
        </dd>
      </dl>
      <p v-if="device.risk" class="risk">{{ device.risk }}</p>
      <section v-if="device.drops.length">
        <h2>Dropped</h2>
        <ul class="drops">
          <li v-for="drop in device.drops" :key="drop.reason">
            <p>
              <b>{{ drop.count }}</b> {{ drop.text }}
            </p>
            <p class="soft">{{ drop.mend }}</p>
          </li>
        </ul>
      </section>
      <section v-if="device.ignores.length">
        <h2>Will be ignored</h2>
        <p class="soft">This dialect does not carry out: {{ device.ignores.join('; ') }}.</p>
      </section>
      <section>
        <h2>The sheet</h2>
        <p v-if="!setup.networks.length" class="soft">
          It says all that is typed into the device, for a network: add one first.
        </p>
        <div v-else class="row">
          All that is typed into it, for
          <v-select
            v-model="network"
            class="which"
            aria-label="Network of the sheet"
            :items="setup.networks"
            item-title="name"
            item-value="id"
          />
          <v-btn size="small" :disabled="!network" @click="emit('sheet', network, madeSecret)"
            >Open the sheet</v-btn
          >
        </div>
      </section>
      <PacketList :device="device.id" />
    </template>
  </aside>
</template>

<style scoped>
.panel {
  border-left: 1px solid rgb(var(--v-theme-hair));
  padding-left: 24px;
  min-width: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
.lead {
  margin: 0 0 10px;
}
.acts {
  gap: 8px;
  margin-bottom: 10px;
}
dl {
  display: grid;
  grid-template-columns: minmax(90px, 150px) minmax(0, 1fr);
  gap: 3px 12px;
  font-size: 14.5px;
  margin: 0;
}
dt {
  color: rgb(var(--v-theme-soft));
}
dd {
  margin: 0;
}
section {
  margin-top: 18px;
}
section p {
  margin: 0;
  font-size: 14.5px;
}
.which {
  flex: 0 1 200px;
}
.once {
  border-left: 4px solid rgb(var(--v-theme-inside));
  padding: 6px 12px;
  overflow-wrap: anywhere;
}
.risk {
  border-left: 4px solid rgb(var(--v-theme-door));
  padding: 4px 12px;
  font-size: 14.5px;
}
.drops {
  list-style: none;
  margin: 0;
  padding: 0;
}
.drops li {
  padding: 5px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.drops b {
  font-family: var(--mono);
}
</style>
