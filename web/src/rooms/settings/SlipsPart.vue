<script setup lang="ts">
// How slips are printed: paper, language, the house's own line, its picture; the picture beside it is the PDF itself.
import { onMounted, ref, watch } from 'vue'

import { api, got, callForPicture, putFile } from '../../api/client'
import ProblemNote from '../../parts/ProblemNote.vue'
import ReadingState from '../../parts/ReadingState.vue'
import { useSession } from '../../stores/session'
import { useAct } from '../../use/useAct'
import { useReading } from '../../use/useReading'

const PAPERS = [
  { value: 'a4', title: 'A4 sheets, ten slips with cut marks' },
  { value: 'letter', title: 'Letter sheets, ten slips with cut marks' },
  { value: 'roll', title: 'receipt roll, 80 mm' },
  { value: 'label', title: 'labels, 62 by 40 mm' },
]
const LANGUAGES = [
  { value: 'en', title: 'English' },
  { value: 'de', title: 'Deutsch' },
]
const { isBusy, problem, act, read, fault } = useAct()
const session = useSession()
const mayChange = session.may('configure')
const reading = useReading(async () => {
  const now = await got(api.GET('/api/slips'))
  return { ...now, words: { en: '', de: '', ...now.words } }
})
const { found, load } = reading
/** What is on the screen, changed by hand until it is saved. */
const slips = ref(found.value)
const picture = ref('')
const said = ref('')
const file = ref<HTMLInputElement | null>(null)

onMounted(load)
watch(found, (now) => {
  slips.value = now
  void draw()
})

/** As it prints now: saved first, since the picture is made of what is saved. */
async function draw(): Promise<void> {
  if (!session.may('issue')) return
  const desk = await read(() => got(api.GET('/api/desk')))
  const plan = desk?.plans[0]?.id
  if (plan === undefined) return
  const wish = { plan, label: 'Ines Harwood', words: 'The concert is at eight.' }
  const drawn = await read(() => callForPicture('POST', '/api/slips/preview', wish))
  if (!drawn) return
  const reader = new FileReader()
  reader.onload = () => (picture.value = String(reader.result))
  reader.readAsDataURL(drawn)
}
async function save(): Promise<void> {
  const { paper, lang, words, has_wifi_qr } = slips.value!
  const wanted = { paper, lang, words, has_wifi_qr }
  if (!(await act(() => got(api.PUT('/api/slips', { body: wanted }))))) return
  said.value = 'Saved. It counts from the next slip on.'
  await load()
}
async function put(): Promise<void> {
  const chosen = file.value?.files?.[0]
  if (!chosen) return
  if (await act(() => putFile('/api/slips/logo', chosen))) said.value = 'The picture is on the slips.'
  if (file.value) file.value.value = ''
  await load()
}
async function take(): Promise<void> {
  if (await act(() => got(api.DELETE('/api/slips/logo')).then(() => true)))
    said.value = 'No picture any more.'
  await load()
}
</script>

<template>
  <ReadingState :of="reading" />
  <section v-if="slips" aria-label="Slips" class="two">
    <form aria-label="How slips are printed" @submit.prevent="save">
      <h2>Slips</h2>
      <p class="soft says">
        What guests take along on paper. The desk may choose another paper or language for each.
      </p>
      <div class="stack">
        <v-select v-model="slips.paper" label="Usual paper" :items="PAPERS" :disabled="!mayChange" />
        <v-select v-model="slips.lang" label="Usual language" :items="LANGUAGES" :disabled="!mayChange" />
        <v-text-field
          v-model="slips.words!.en"
          label="A line of your own, in English"
          maxlength="120"
          placeholder="Breakfast from seven."
          :disabled="!mayChange"
          :error-messages="fault('words.en')"
        />
        <v-text-field
          v-model="slips.words!.de"
          label="in German"
          maxlength="120"
          placeholder="Frühstück ab sieben."
          :disabled="!mayChange"
          :error-messages="fault('words.de')"
        />
        <v-checkbox
          v-model="slips.has_wifi_qr"
          label="A second QR code that joins the Wi-Fi"
          hint="For open networks that are known by their whole SSID."
          persistent-hint
          :disabled="!mayChange"
        />
      </div>
      <ProblemNote v-if="!problem?.field" :problem="problem" />
      <div v-if="mayChange" class="acts">
        <v-btn type="submit" variant="flat" color="primary" :disabled="isBusy">Save</v-btn>
        <span v-if="said" role="status">{{ said }}</span>
      </div>
      <template v-if="mayChange">
        <h3>Picture of the house</h3>
        <p class="soft says">PNG or JPEG, up to 5 MB; it is made small and written anew.</p>
        <div class="acts">
          <input
            ref="file"
            type="file"
            accept="image/png,image/jpeg"
            aria-label="Picture of the house"
            @change="put"
          />
          <v-btn v-if="slips.has_logo" size="small" :disabled="isBusy" @click="take">Take it off</v-btn>
        </div>
        <p v-for="text in fault('logo')" :key="text" class="note">{{ text }}</p>
      </template>
    </form>
    <figure v-if="picture">
      <figcaption class="soft">A slip as it prints</figcaption>
      <img :src="picture" alt="A slip as it prints" />
    </figure>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 460px) minmax(0, 420px);
  gap: 20px 40px;
}
.acts {
  margin-top: 12px;
}
h3 {
  font-size: 15px;
  margin: 22px 0 0;
}
figure {
  margin: 0;
}
img {
  width: 100%;
  max-height: 560px;
  object-fit: contain;
  object-position: top;
  background: #fff;
  border: 1px dashed #b9b0a5;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
