<script setup lang="ts">
// Passcodes that are good now, with the time left.
import type { Desk } from '../../api/client'
import { useTimes } from '../../use/useTimes'

defineProps<{ passcodes: Desk['passcodes']; isBoard?: boolean }>()
const times = useTimes()
</script>

<template>
  <section class="passcodes" :class="{ board: isBoard }" aria-label="Passcodes that are good now">
    <p v-for="one in passcodes" :key="one.network + one.code" :class="{ former: one.is_former }">
      <span class="soft"> {{ one.network }}, {{ one.is_former ? 'the passcode before' : 'passcode' }} </span>
      <span class="mono">{{ one.code }}</span>
      <span v-if="one.until" class="soft" :title="times.exact(one.until)">
        until {{ times.clock(one.until) }},
        {{ times.duration(Math.max(0, one.until - times.now.value)) }} left
      </span>
      <span v-else class="soft">until somebody changes it</span>
    </p>
    <router-link v-if="!isBoard" to="/board" class="soft">Large, for across the room</router-link>
  </section>
</template>

<style scoped>
.passcodes {
  border-bottom: 1px solid rgb(var(--v-theme-hair));
  margin-bottom: 16px;
  padding-bottom: 8px;
}
.passcodes p {
  display: grid;
  margin: 0 0 10px;
}
.passcodes .mono {
  font-size: 32px;
  line-height: 1.2;
  font-weight: 700;
  letter-spacing: 0.06em;
  overflow-wrap: anywhere;
}
.passcodes .former .mono {
  font-size: 18px;
  font-weight: 400;
}
.board {
  border: 0;
  display: grid;
  gap: 4vh;
}
.board .soft {
  font-size: clamp(18px, 2.4vw, 40px);
}
.board .mono {
  font-size: clamp(48px, 13vw, 240px);
  line-height: 1.1;
}
.board .former .mono {
  font-size: clamp(28px, 6vw, 100px);
}
</style>
