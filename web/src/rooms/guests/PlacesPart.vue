<script setup lang="ts">
// What should hold for a guest and what was seen of it, a row for each access device and session.
import type { Dossier } from '../../api/client'

defineProps<{ places: Dossier['places'] }>()
</script>

<template>
  <section>
    <h2>What should hold, and what was seen</h2>
    <table class="places">
      <thead>
        <tr>
          <th scope="col">Place</th>
          <th scope="col">Should hold</th>
          <th scope="col">Seen</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in places" :key="`${one.where} ${one.session}`" :class="{ off: !one.agrees }">
          <th scope="row">
            {{ one.where }}<span v-if="one.session" class="mono soft session">{{ one.session }}</span>
          </th>
          <td>{{ one.should }}</td>
          <td>
            {{ one.seen }}<span v-if="one.doing" class="doing">{{ one.doing }}</span>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
section {
  margin-top: 16px;
}
.places {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}
.places th,
.places td {
  padding: 4px 10px 4px 0;
  text-align: left;
  vertical-align: top;
  border-bottom: 1px solid rgb(var(--v-theme-hair));
}
.places thead th,
.places tbody th {
  font-weight: 400;
}
.places .session,
.places .doing {
  display: block;
  font-size: 13px;
}
.places .off td {
  font-weight: 600;
}
</style>
