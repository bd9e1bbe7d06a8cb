<script setup lang="ts">
/** A mail that came from a customer: who, when, its words, its files. Only words are shown: nothing of it is fetched. */
import { moment } from '@/kit/format/format'
import { t } from '@/words'
import type { Arrived } from './mails'

defineProps<{ mail: Arrived }>()
</script>

<template>
  <details class="came">
    <summary>
      <b>{{ t(mail.automatic ? 'mail.automatic' : 'mail.came') }}</b>
      <span>{{ mail.subject }}</span>
      <span class="soft">{{ mail.sender }}</span>
      <small class="soft">{{ moment(mail.written_at) }}</small>
    </summary>
    <p v-if="mail.sender !== mail.address" class="soft">{{ mail.address }}</p>
    <pre>{{ mail.text }}</pre>
    <p v-if="mail.files.length" class="files">
      <a
        v-for="file in mail.files"
        :key="file.id"
        :href="`/api/arrived-files/${file.id}`"
        download
        >{{ file.name }}</a
      >
    </p>
    <p v-if="mail.left_out" class="soft">{{ t('mail.filesLeft', { n: mail.left_out }) }}</p>
  </details>
</template>

<style scoped>
summary {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  min-height: 28px;
  cursor: pointer;
}
p {
  margin: 8px 0 0;
}
pre {
  margin: 6px 0;
  padding-left: 14px;
  border-left: 4px solid var(--amber);
  font: inherit;
  white-space: pre-wrap;
}
.files {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
</style>
