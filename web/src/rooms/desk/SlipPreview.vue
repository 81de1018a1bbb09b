<script setup lang="ts">
// The slip as it will print; the code appears once it is issued.
import type { Desk, Plan, Issued } from '../../api/client'

defineProps<{
  desk: Desk
  plan: Plan | null
  issued: Issued | null
  count: number
  label: string
  way: string
  password: string | null
}>()
</script>

<template>
  <figure>
    <figcaption class="soft">
      What the guest takes along<template v-if="count > 1"> · {{ count }} of these, ten to a page</template>
    </figcaption>
    <div class="slip">
      <p class="head">
        <strong>{{ desk.site }}</strong><span>{{ plan?.name }}</span>
      </p>
      <p v-if="label" class="for">for {{ label }}</p>
      <p class="code mono" :class="{ open: !issued }">{{ issued?.code ?? '·····-·····' }}</p>
      <template v-if="way === 'account'">
        <p class="code mono" :class="{ open: !password }">{{ password ?? 'password' }}</p>
        <p v-if="issued" class="once">
          {{
            password
              ? 'Shown this once: write it down, or let the guest take a picture.'
              : 'Its password was shown once.'
          }}
        </p>
      </template>
      <div class="how">
        <ol>
          <li>
            Join <strong>{{ desk.ssids[way] || 'the guest Wi-Fi' }}</strong>.
          </li>
          <li>A page opens by itself.{{ way === 'account' ? '' : ' If not, scan.' }}</li>
          <li>{{ way === 'account' ? 'Type name and password.' : 'Type the code.' }}</li>
        </ol>
        <img
          v-if="issued && way !== 'account'"
          :src="`/api/issued/${issued.id}/qr.svg`"
          width="92"
          height="92"
          alt="QR code that fills in the code"
        />
        <span v-else-if="way !== 'account'" class="soon">QR</span>
      </div>
      <p class="foot">{{ issued?.slip ?? plan?.slip }}<br />Page: {{ desk.page }}</p>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
figcaption {
  font-size: 14px;
  margin-bottom: 8px;
}
.slip {
  background: #fff;
  color: #17121a;
  padding: 18px 20px;
  border: 1px dashed #b9b0a5;
}
.for {
  margin: 2px 0 0;
  font-size: 14px;
  overflow-wrap: anywhere;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  margin: 0;
  font-size: 14px;
}
.head strong {
  color: #5b2a4e;
}
.head span {
  color: #5c5462;
}
.code {
  font-size: 27px;
  font-weight: 700;
  margin: 10px 0;
  letter-spacing: 0.02em;
}
.once {
  font-size: 14px;
  margin: 0 0 10px;
  color: #5b2a4e;
}
.code.open {
  color: #6e6577;
}
.how {
  display: flex;
  gap: 14px;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 12px;
}
.soon {
  flex: none;
  width: 92px;
  height: 92px;
  border: 1px dashed #b9b0a5;
  display: grid;
  place-items: center;
  color: #6e6577;
}
ol {
  margin: 0;
  padding-left: 20px;
  font-size: 14px;
}
.foot {
  border-top: 1px dashed #b9b0a5;
  padding-top: 8px;
  margin: 0;
  font-size: 13px;
  color: #5c5462;
}
</style>
