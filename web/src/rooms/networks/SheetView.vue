<script setup lang="ts">
// The sheet: all that must be typed into one access device for one network, ready to copy and to print.
import { ref, watch } from 'vue'

import { api, got } from '../../api/client'
import ReadingState from '../../parts/ReadingState.vue'
import { useReading } from '../../use/useReading'

const props = defineProps<{ device: number; network: number; secret: string | null }>()
const emit = defineEmits<{ close: [] }>()
const copied = ref('')
const path = () => ({ device: props.device, network: props.network })
const reading = useReading(() => got(api.GET('/api/sheet/{device}/{network}', { params: { path: path() } })))
const { found: sheet, load } = reading

watch(
  () => [props.device, props.network],
  () => {
    sheet.value = null
    void load()
  },
  { immediate: true },
)

const said = (label: string, value: string) => (label === 'Shared secret' ? (props.secret ?? '') : value)
async function copy(label: string, value: string): Promise<void> {
  await navigator.clipboard.writeText(value)
  copied.value = label
}
const print = () => window.print()
</script>

<template>
  <ReadingState :of="reading" />
  <article v-if="sheet" class="paper">
    <header>
      <div>
        <h1>{{ sheet.device }} for {{ sheet.network }}</h1>
        <p class="soft">All that must be typed into the access device.</p>
      </div>
      <div class="acts">
        <v-btn size="small" variant="flat" color="primary" @click="print"> Print<kbd>p</kbd> </v-btn>
        <v-btn size="small" variant="text" @click="emit('close')">Back<kbd>Esc</kbd></v-btn>
      </div>
    </header>
    <p v-if="copied" class="away" role="status">{{ copied }} copied</p>
    <section v-for="part in sheet.parts" :key="part.title">
      <h2>{{ part.title }}</h2>
      <table>
        <tbody>
          <tr v-for="row in part.rows" :key="row.label">
            <td class="label">{{ row.label }}</td>
            <td class="value" :class="{ mono: row.is_typed }">{{ said(row.label, row.value) || '—' }}</td>
            <td class="soft note">
              {{
                row.label === 'Shared secret' && secret
                  ? 'write it down now: it is not shown again'
                  : row.note
              }}
            </td>
            <td class="copy">
              <v-btn
                v-if="row.is_typed && said(row.label, row.value)"
                size="x-small"
                variant="text"
                :aria-label="`Copy ${row.label}`"
                @click="copy(row.label, said(row.label, row.value))"
              >
                {{ copied === row.label ? 'Copied' : 'Copy' }}
              </v-btn>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
  </article>
</template>

<style scoped>
.paper {
  max-width: 980px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: start;
}
header h1,
header p {
  margin: 0;
}
.acts {
  gap: 8px;
}
section {
  margin-top: 18px;
  break-inside: avoid;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14.5px;
}
td {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  padding: 5px 12px 5px 0;
  vertical-align: baseline;
}
.label {
  width: 210px;
}
.value {
  overflow-wrap: anywhere;
}
.note {
  width: 36%;
  font-size: 13.5px;
}
.copy {
  width: 70px;
  text-align: right;
  padding: 0;
}
@media (max-width: 700px) {
  td {
    display: block;
    border: 0;
    width: auto !important;
    padding: 1px 0;
    text-align: left;
  }
  tr {
    display: block;
    border-bottom: 1px solid rgb(var(--v-theme-hair));
    padding: 5px 0;
  }
}
@media print {
  .acts,
  .copy {
    display: none;
  }
}
</style>
