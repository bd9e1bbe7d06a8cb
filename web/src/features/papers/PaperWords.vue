<script setup lang="ts">
/** What a paper says, in each language; what is left empty is said as it ships. */
import { computed } from 'vue'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { maybe, t } from '@/words'
import { LANGUAGES, type Language, type Papers, type Template } from './queries'

const wording = defineModel<Template['wording']>({ required: true })
const props = defineProps<{ language: Language; papers: Papers }>()
const emit = defineEmits<{ language: [language: Language] }>()
const languages = LANGUAGES.map((value) => ({ value, label: t(`papers.languages.${value}`) }))
const facts = computed(() => props.papers.facts.map((fact) => `{${fact}}`).join(' '))
const shipped = (key: string) =>
  props.papers.shipped_words[props.language]?.[key] || t('papers.nothing')
function write(key: string, words: string): void {
  const said = { ...wording.value[props.language], [key]: words }
  wording.value = { ...wording.value, [props.language]: said }
}
</script>

<template>
  <div class="chips words">
    <SegmentFilter
      :model-value="language"
      :choices="languages"
      :label="t('papers.language')"
      @update:model-value="(to) => emit('language', to as Language)"
    />
    <span class="soft">{{ t('papers.facts', { facts }) }}</span>
  </div>
  <ElFormItem
    v-for="key in papers.sentences"
    :key="`${language} ${key}`"
    :label="maybe(`papers.sentences.${key}`) ?? key"
    class="sentence"
  >
    <ElInput
      :model-value="wording[language]?.[key] ?? ''"
      type="textarea"
      :rows="2"
      maxlength="1000"
      :name="key"
      :placeholder="shipped(key)"
      @update:model-value="(words: string) => write(key, words)"
    />
  </ElFormItem>
</template>

<style scoped>
.words {
  margin: 14px 0 8px;
}
.sentence.el-form-item {
  margin-bottom: 10px !important;
}
</style>
