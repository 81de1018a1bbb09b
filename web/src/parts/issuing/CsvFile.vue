<script setup lang="ts">
// A list may come from a file as well.
const emit = defineEmits<{ text: [text: string] }>()
async function take(event: Event): Promise<void> {
  const file = (event.target as HTMLInputElement).files?.[0]
  if (file) emit('text', await file.text())
}
</script>

<template>
  <label>
    <span class="soft">or a CSV</span>
    <input type="file" accept=".csv,.txt,text/csv,text/plain" aria-label="A CSV file" @change="take" />
  </label>
</template>

<style scoped>
label {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  font-size: 14px;
}
</style>
