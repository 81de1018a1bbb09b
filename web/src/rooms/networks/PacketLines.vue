<script setup lang="ts">
import type { PacketLine } from '../../api/client'

defineProps<{ lines: PacketLine[] }>()
</script>

<template>
  <div class="scroll">
    <table>
      <tbody>
        <tr v-for="(line, n) in lines" :key="n">
          <td class="soft">{{ line.number }}</td>
          <td>{{ line.name }}</td>
          <td class="words">{{ line.words }}</td>
          <td class="mono octets" :title="line.octets">{{ line.octets }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  padding-bottom: 8px;
}
table {
  border-collapse: collapse;
  font-size: 13px;
  width: 100%;
  table-layout: fixed;
}
td {
  padding: 2px 10px 2px 0;
  vertical-align: top;
  overflow-wrap: anywhere;
}
td:nth-child(1) {
  width: 34px;
}
td:nth-child(2) {
  width: 30%;
}
.octets {
  font-size: 11.5px;
  width: 30%;
  color: rgb(var(--v-theme-soft));
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
