<script setup lang="ts">
/** Lines from a mail: its text, read; nothing comes onto the quote before it is looked at. */
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, take, type Shapes } from '@/api/client'
import { complain, say } from '@/kit/act/notices'
import StepPanel from '@/kit/step/StepPanel.vue'
import type { DeskLine } from '@/parts/line/line'
import { useArrived } from '@/parts/mail/mails'
import MailsToRead from '@/parts/mail/MailsToRead.vue'
import MailLines from '@/parts/reading/MailLines.vue'
import { lineOf, mailLine, ready, type MailLine } from '@/parts/reading/mailLines'
import { t, tn } from '@/words'

const props = defineProps<{ text: string; at: number; customer: number }>()
const emit = defineEmits<{ insert: [rows: DeskLine[], at: number]; close: [] }>()
const text = ref(props.text)
const reading = shallowRef<Shapes['MailReadingOut'] | null>(null)
const lines = ref<MailLine[]>([])
const busy = ref(false)
const good = computed(() => lines.value.filter(ready))

const came = useArrived('customer', () => props.customer)
/** The mail that the quote was started from is read at once. */
const wanted = Number(useRoute().query.mail) || 0
watch(
  () => came.data.value?.find(({ id }) => id === wanted),
  (mail) => {
    if (mail && !text.value && !reading.value) readMail(mail.text)
  },
  { immediate: true },
)
function readMail(words: string): void {
  text.value = words
  void read()
}
async function readFile(file: number): Promise<void> {
  busy.value = true
  try {
    const params = { path: { file_id: file } }
    const found = await take(api.GET('/api/arrived-files/{file_id}/table', { params }))
    readMail(found.text)
  } catch (fault) {
    complain(fault, () => void readFile(file))
    busy.value = false
  }
}

onMounted(() => {
  if (text.value.trim()) void read()
})
async function read(): Promise<void> {
  busy.value = true
  try {
    const body = { text: text.value, customer_id: props.customer }
    const found = await take(api.POST('/api/items/read-mail', { body }))
    lines.value = found.lines.map(mailLine)
    reading.value = found
  } catch (fault) {
    complain(fault, () => void read())
  } finally {
    busy.value = false
  }
}
/** What a person says to be a word for an item is kept, beside the lines that are added. */
async function keepWords(): Promise<void> {
  for (const line of good.value.filter((each) => each.keep)) {
    const { item, words } = line
    if (!item) continue
    const params = { path: { item_id: item.id } }
    try {
      await take(api.POST('/api/items/{item_id}/words', { params, body: { word: words } }))
      say(t('reading.kept', { words, code: item.code }))
    } catch (fault) {
      complain(fault)
    }
  }
}
function go(): void {
  if (!reading.value) {
    if (text.value.trim() && !busy.value) void read()
  } else if (good.value.length) {
    void keepWords()
    emit('insert', good.value.map(lineOf), props.at)
  }
}
</script>

<template>
  <StepPanel :title="t('reading.title')" @close="emit('close')" @go="go">
    <template v-if="reading">
      <MailLines v-model="lines" :reading="reading" />
      <ElButton type="primary" native-type="submit" :disabled="!good.length">{{
        tn('reading.act', good.length)
      }}</ElButton>
      <ElButton @click="reading = null">{{ t('reading.again') }}</ElButton>
      <span v-if="lines.length > good.length" class="soft">{{
        tn('reading.behind', lines.length - good.length)
      }}</span>
    </template>
    <template v-else>
      <ElFormItem class="text" :label="t('reading.text')">
        <ElInput
          v-model="text"
          type="textarea"
          :rows="9"
          :placeholder="t('reading.hint')"
          maxlength="100000"
        />
      </ElFormItem>
      <MailsToRead
        v-if="came.data.value?.length"
        :mails="came.data.value"
        :busy="busy"
        @mail="readMail"
        @file="readFile"
      />
      <ElButton type="primary" native-type="submit" :loading="busy" :disabled="!text.trim()">{{
        busy ? t('reading.reading') : t('reading.read')
      }}</ElButton>
    </template>
  </StepPanel>
</template>

<style scoped>
.text {
  flex-basis: 100%;
}
</style>
