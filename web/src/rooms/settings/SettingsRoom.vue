<script setup lang="ts">
// What belongs to the whole site: messages and what became of them, hosts, privacy, and who works here.
import { computed, onMounted, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, got } from '../../api/client'
import ReadingState from '../../parts/ReadingState.vue'
import ActivityPart from './people/ActivityPart.vue'
import ChannelsPart from './ChannelsPart.vue'
import HostsPart from './HostsPart.vue'
import OutboxPart from './OutboxPart.vue'
import PeoplePart from './people/PeoplePart.vue'
import ProgramsPart from './people/ProgramsPart.vue'
import PrivacyPart from './PrivacyPart.vue'
import SlipsPart from './SlipsPart.vue'
import WordsPart from './WordsPart.vue'
import { useReading } from '../../use/useReading'

const PARTS = [
  ['channels', 'Mail and text'],
  ['hosts', 'Hosts'],
  ['words', 'What they say'],
  ['outbox', 'Sent and waiting'],
  ['slips', 'Slips'],
  ['privacy', 'Privacy'],
  ['people', 'People'],
  ['programs', 'Programs'],
  ['activity', 'Activity record'],
] as const
const reading = useReading(() => got(api.GET('/api/settings')))
const { found: settings, load } = reading
const route = useRoute()
const router = useRouter()
const part = computed(() => PARTS.find(([key]) => key === route.query.part)?.[0] ?? 'channels')

onMounted(load)
watch(part, load)
</script>

<template>
  <div class="room">
    <div class="tops">
      <h1 class="away">Settings</h1>
      <button
        v-for="[key, word] in PARTS"
        :key="key"
        class="part"
        :class="{ on: key === part }"
        :aria-pressed="key === part"
        @click="router.replace({ query: { part: key } })"
      >
        {{ word }}
      </button>
    </div>
    <ReadingState :of="reading" />
    <template v-if="settings">
      <ChannelsPart v-if="part === 'channels'" :settings="settings" @saved="load" />
      <WordsPart v-else-if="part === 'words'" :settings="settings" @saved="load" />
      <HostsPart v-else-if="part === 'hosts'" :has-mail="!!settings.mail" />
      <PrivacyPart v-else-if="part === 'privacy'" />
      <PeoplePart v-else-if="part === 'people'" :has-mail="!!settings.mail" />
      <SlipsPart v-else-if="part === 'slips'" />
      <ProgramsPart v-else-if="part === 'programs'" />
      <ActivityPart v-else-if="part === 'activity'" />
      <OutboxPart v-else :settings="settings" />
    </template>
  </div>
</template>

<style scoped>
.tops {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 24px;
  align-items: center;
  margin-bottom: 18px;
}
.part {
  font-size: 17px;
  padding: 4px 0;
  border-bottom: 3px solid transparent;
}
.part.on {
  font-weight: 700;
  border-color: rgb(var(--v-theme-primary));
}
</style>
