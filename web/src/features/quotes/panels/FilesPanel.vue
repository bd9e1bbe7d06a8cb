<script setup lang="ts">
/** Files of a quote and of its lines; once it is issued they stay as they are. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import StepPanel from '@/kit/step/StepPanel.vue'
import FilesList from '@/parts/files/FilesList.vue'
import type { DeskLine } from '@/parts/line/line'
import { t } from '@/words'

const props = defineProps<{ quote: Shapes['QuoteOut']; lines: DeskLine[] }>()
const emit = defineEmits<{ close: [] }>()
const fixed = computed(() => Boolean(props.quote.issued_at))
const lines = computed(() =>
  props.lines
    .filter((line) => line.item)
    .map((line) => ({ value: line.key, label: line.text, detail: line.item?.code })),
)
</script>

<template>
  <StepPanel
    :title="t('files.panel')"
    :leave="t('kit.step.close')"
    @close="emit('close')"
    @go="emit('close')"
  >
    <div class="wide">
      <p v-if="fixed" class="soft">{{ t('files.fixed') }}</p>
      <FilesList kind="quote" :record="quote.id" :may="!fixed" paper :lines="lines" />
    </div>
  </StepPanel>
</template>

<style scoped>
.wide {
  flex-basis: 100%;
}
</style>
