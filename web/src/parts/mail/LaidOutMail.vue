<script setup lang="ts">
/** A mail as its writer laid it out, in a frame that can do nothing; its pictures stay outside until they are asked for. */
import { ref } from 'vue'
import { t } from '@/words'

const props = defineProps<{ mail: number; sender: string; pictures: boolean }>()
const fetched = ref(false)
const address = () =>
  `/api/arrived-mails/${props.mail}/page${fetched.value ? '?pictures=true' : ''}`
</script>

<template>
  <p v-if="pictures && !fetched" class="soft outside">
    {{ t('mail.picturesOutside') }}
    <ElButton size="small" @click="fetched = true">{{ t('mail.fetchPictures') }}</ElButton>
  </p>
  <iframe
    :src="address()"
    :title="t('mail.laidOutBy', { who: sender })"
    sandbox="allow-popups allow-popups-to-escape-sandbox"
    referrerpolicy="no-referrer"
  />
</template>

<style scoped>
.outside {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  align-items: center;
  margin: 6px 0;
}
iframe {
  display: block;
  width: 100%;
  height: 320px;
  min-height: 120px;
  resize: vertical;
  border: 1px solid var(--rule);
}
</style>
