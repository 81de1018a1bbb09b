<script setup lang="ts">
// One network's stages, editable where they are set; access devices and dialects below them.
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, got, type Stage } from '../../api/client'
import NetworkStream from '../../parts/NetworkStream.vue'
import ReadingState from '../../parts/ReadingState.vue'
import DeviceForm from './DeviceForm.vue'
import DevicePanel from './DevicePanel.vue'
import UnknownDevices from './UnknownDevices.vue'
import NetworkEditor from './NetworkEditor.vue'
import AlwaysList from './always/AlwaysList.vue'
import SheetView from './SheetView.vue'
import { useLive } from '../../stores/live'
import { useKeys } from '../../use/useKeys'
import { useReading } from '../../use/useReading'
import { useTimes } from '../../use/useTimes'

const reading = useReading(() => got(api.GET('/api/networks')))
const { found: setup, load } = reading
const madeSecret = ref<string | null>(null)
const live = useLive()
const times = useTimes()
const route = useRoute()
const router = useRouter()
const one = (key: string) => (route.query[key] as string | undefined) ?? null
const network = computed(
  () =>
    setup.value?.networks.find((n) => String(n.id) === one('network')) ?? setup.value?.networks[0] ?? null,
)
const stream = computed(() => live.now?.streams.find((s) => s.id === network.value?.id) ?? null)
const device = computed(() => setup.value?.devices.find((d) => String(d.id) === one('device')) ?? null)
const role = computed(() => setup.value?.roles.find((r) => String(r.id) === one('role')) ?? null)
const dialect = computed(() => setup.value?.dialects.find((d) => String(d.id) === one('dialect')) ?? null)
const sheet = computed(() =>
  one('sheet') && device.value ? { device: device.value.id, network: Number(one('sheet')) } : null,
)
const isEditing = computed(() => one('edit'))

const go = (query: Record<string, string | undefined>) =>
  router.replace({ query: { network: one('network') ?? undefined, ...query } })
const back = () => {
  madeSecret.value = null
  void go({})
}
async function saved(query: Record<string, string | undefined> = {}): Promise<void> {
  await load()
  void go(query)
}
function openStage(opens: Stage['opens']): void {
  if (opens === 'placement') void router.push('/rules')
  else if (opens) void go({ edit: opens })
}
function openSheet(networkId: number, secret: string | null): void {
  madeSecret.value = secret ?? madeSecret.value
  void go({ device: String(device.value?.id), sheet: String(networkId) })
}
function taken(id: number, secret: string | null): void {
  madeSecret.value = secret
  void saved({ device: String(id) })
}
const dropped = (drops: { count: number }[]) => drops.reduce((sum, drop) => sum + drop.count, 0)

onMounted(load)
watch(() => live.now?.line?.id, load)
useKeys({
  Escape: back,
  p: () => {
    if (sheet.value) window.print()
  },
})
</script>

<template>
  <div class="room">
    <SheetView
      v-if="sheet"
      v-bind="sheet"
      :secret="madeSecret"
      @close="go({ device: String(sheet.device) })"
    />
    <h1 v-if="!sheet" class="away">Networks</h1>
    <ReadingState v-if="!sheet" :of="reading" />
    <template v-if="setup && !sheet">
      <div class="tops">
        <button
          v-for="n in setup.networks"
          :key="n.id"
          class="net"
          :class="{ on: n === network }"
          :aria-pressed="n === network"
          @click="router.replace({ query: { network: String(n.id) } })"
        >
          {{ n.name }}
        </button>
        <span class="ml-auto" />
        <v-btn
          v-if="network"
          class="changes"
          size="small"
          variant="text"
          @click="go({ edit: 'pause', network: String(network.id) })"
        >
          {{ network.pause ? 'Paused: change or end' : 'Pause' }}
        </v-btn>
        <v-btn class="changes" size="small" @click="go({ edit: 'new' })">Add network</v-btn>
      </div>
      <div v-if="stream" class="band"><NetworkStream :stream="stream" /></div>
      <div v-if="network" class="stages">
        <component
          :is="stage.opens ? 'button' : 'div'"
          v-for="stage in network.stages"
          :key="stage.name"
          class="stage"
          :class="{ on: stage.opens && stage.opens === isEditing }"
          @click="openStage(stage.opens)"
        >
          <span class="head"
            >{{ stage.name }}<span v-if="stage.opens" class="change changes">change</span></span
          >
          <span v-for="line in stage.lines" :key="line" class="soft line">{{ line }}</span>
        </component>
      </div>
      <p v-else class="empty">No guest network has a name yet. Add one: its SSID is enough.</p>
      <NetworkEditor
        :setup="setup"
        :editing="isEditing"
        :network="network"
        :role="role"
        :dialect="dialect"
        @saved="saved"
        @close="back"
      />
      <div class="lower" :class="{ split: device }">
        <div>
          <section aria-label="Access devices">
            <div class="row">
              <h2>Access devices</h2>
              <v-btn
                class="changes"
                size="x-small"
                aria-label="Add access device"
                @click="go({ edit: 'device' })"
                >Add</v-btn
              >
            </div>
            <div v-if="isEditing === 'device'" class="new">
              <DeviceForm wide :setup="setup" @saved="taken" @close="back" />
            </div>
            <div v-if="setup.devices.length" class="scroll">
              <table class="list">
                <thead>
                  <tr>
                    <th>Name</th>
                    <th>Address</th>
                    <th>Dialect</th>
                    <th>Last heard</th>
                    <th class="num">Requests</th>
                    <th class="num">Dropped</th>
                    <th>Signing</th>
                  </tr>
                </thead>
                <tbody>
                  <tr
                    v-for="d in setup.devices"
                    :key="d.id"
                    :class="{ picked: d === device }"
                    @click="go({ device: String(d.id) })"
                  >
                    <td>
                      <router-link :to="{ query: { ...route.query, device: String(d.id) } }">{{
                        d.name
                      }}</router-link>
                    </td>
                    <td class="mono">{{ d.address }}</td>
                    <td>{{ d.dialect_name }}</td>
                    <td>{{ d.last_heard ? times.ago(d.last_heard) : 'never' }}</td>
                    <td class="num">{{ d.requests + d.reports }}</td>
                    <td class="num" :class="{ bad: d.drops.length }">{{ dropped(d.drops) || '' }}</td>
                    <td>{{ d.signing_words }}<template v-if="d.has_old_secret">; two secrets</template></td>
                  </tr>
                </tbody>
              </table>
            </div>
            <p v-else class="soft">
              None yet. Set this server as the RADIUS server of one: it then appears among the unknown access
              devices.
            </p>
          </section>
          <UnknownDevices
            :setup="setup"
            :open="one('unknown')"
            @open="(address) => go({ unknown: address ?? undefined })"
            @taken="taken"
          />
          <AlwaysList :setup="setup" @changed="load" />
          <section aria-label="Roles">
            <div class="row">
              <h2>Roles</h2>
              <v-btn class="changes" size="x-small" aria-label="Add role" @click="go({ edit: 'role' })"
                >Add</v-btn
              >
            </div>
            <ul>
              <li v-for="r in setup.roles" :key="r.id">
                <button @click="go({ role: String(r.id) })">{{ r.name }}</button>
                <span class="soft">{{ r.sentence }}</span>
              </li>
            </ul>
          </section>
          <section aria-label="Dialects">
            <div class="row">
              <h2>Dialects</h2>
              <v-btn class="changes" size="x-small" aria-label="Add dialect" @click="go({ edit: 'dialect' })"
                >Add</v-btn
              >
            </div>
            <ul>
              <li v-for="d in setup.dialects" :key="d.id">
                <button @click="go({ dialect: String(d.id) })">{{ d.name }}</button>
                <span class="soft">{{ d.sentence }}</span>
              </li>
            </ul>
          </section>
        </div>
        <DevicePanel
          v-if="device"
          :key="device.id"
          :device="device"
          :setup="setup"
          @changed="load"
          @close="back"
          @removed="saved()"
          @sheet="openSheet"
        />
      </div>
    </template>
  </div>
</template>

<style scoped>
.tops {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: center;
  max-height: 140px;
  overflow-y: auto;
}
.net {
  white-space: nowrap;
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  font-size: 18px;
  padding: 2px 0;
  border-bottom: 3px solid transparent;
  color: rgb(var(--v-theme-soft));
}
.net.on {
  color: rgb(var(--v-theme-on-background));
  font-weight: 700;
  border-bottom-color: rgb(var(--v-theme-primary));
}
.band {
  margin-bottom: -18px;
}
.band :deep(.name) {
  display: none;
}
.band :deep(.stream) {
  grid-template-columns: 1fr;
  border-bottom: 0;
}
.stages {
  display: grid;
  grid-template-columns: 17fr 17fr 18fr 16fr 18fr 14fr;
  gap: 0;
  border-top: 1px solid rgb(var(--v-theme-hair));
}
.stage {
  text-align: left;
  padding: 8px 16px 10px 0 !important;
  display: flex;
  flex-direction: column;
  justify-content: flex-start;
  border-top: 3px solid transparent;
  margin-top: -2px;
}
.stage.on {
  border-top-color: rgb(var(--v-theme-primary));
}
.head {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-weight: 700;
  margin-bottom: 2px;
}
.change {
  font-weight: 400;
  font-size: 13px;
  text-decoration: underline;
  text-underline-offset: 3px;
  color: rgb(var(--v-theme-primary));
}
.line {
  display: block;
  font-size: 13.5px;
  line-height: 1.35;
  margin-bottom: 5px;
}
.lower {
  margin-top: 12px;
}
.lower section {
  margin-bottom: 22px;
}
.split {
  display: grid;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: 24px;
}
.row {
  margin-bottom: 2px;
}
.row h2 {
  margin: 0;
}
.new {
  padding: 10px 0;
}
.scroll {
  overflow-x: auto;
}
tbody tr {
  cursor: pointer;
}
tbody tr:hover,
tbody tr.picked {
  background: rgb(var(--v-theme-tint));
}
.num {
  text-align: right !important;
  padding-right: 18px !important;
}
.bad {
  color: rgb(var(--v-theme-barred));
  font-weight: 700;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  font-size: 14.5px;
}
li button {
  font-weight: 700;
  text-decoration: underline;
  text-underline-offset: 3px;
  margin-right: 8px;
}
@media (max-width: 1000px) {
  .stages {
    grid-template-columns: 1fr 1fr;
  }
  .split {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
