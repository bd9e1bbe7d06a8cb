<script setup lang="ts">
/** The customer's last mails and the tables that came with them, one press away from being read. */
import { computed } from 'vue'
import { moment } from '@/kit/format/format'
import { t } from '@/words'
import { isTable, type Arrived } from './mails'

const props = defineProps<{ mails: Arrived[]; busy: boolean }>()
const emit = defineEmits<{ mail: [text: string]; file: [id: number] }>()
const MOST = 6
const shown = computed(() => props.mails.filter(({ automatic }) => !automatic).slice(0, MOST))
</script>

<template>
  <div v-if="shown.length" class="came">
    <span class="soft">{{ t('reading.came') }}</span>
    <ul>
      <li v-for="mail in shown" :key="mail.id">
        <ElButton size="small" :disabled="busy" @click="emit('mail', mail.text)">{{
          mail.subject || t('reading.noSubject')
        }}</ElButton>
        <ElButton
          v-for="file in mail.files.filter(({ name }) => isTable(name))"
          :key="file.id"
          size="small"
          :disabled="busy"
          @click="emit('file', file.id)"
          >{{ file.name }}</ElButton
        >
        <span class="soft">{{ mail.sender }}, {{ moment(mail.written_at) }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.came {
  flex-basis: 100%;
}
ul {
  margin: 4px 0 8px;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
}
li + li {
  margin-top: 4px;
}
</style>
