<script setup lang="ts">
/** The quote on paper: how it looks and what it says, tried on a real quote as one types. */
import { computed, ref, toRef, watch } from 'vue'
import { api, take } from '@/api/client'
import { me } from '@/api/session'
import { say } from '@/kit/act/notices'
import { useAct } from '@/kit/act/useAct'
import { keptDraft } from '@/kit/draft/keptDraft'
import SegmentFilter from '@/kit/list/SegmentFilter.vue'
import { useFilters } from '@/kit/list/useFilters'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import EditionList from './EditionList.vue'
import LayoutSource from './LayoutSource.vue'
import PaperLook from './PaperLook.vue'
import PaperPreview from './PaperPreview.vue'
import PaperWords from './PaperWords.vue'
import { LANGUAGES, PAPERS, samePaper, templateOf, usePapers, type Paper, type Template } from './queries' // prettier-ignore
import { useTrial } from './useTrial'

const { filters, values } = useFilters({ paper: 'short', language: 'en' })
const { data, error, refetch } = usePapers()
/** What the address names, where there is such a thing. */
const paper = computed(() => PAPERS.find((p) => p === values.value.paper) ?? PAPERS[0])
const language = computed(() => LANGUAGES.find((l) => l === values.value.language) ?? LANGUAGES[0])
const editions = computed(
  () => data.value?.papers.find((each) => each.paper === paper.value)?.editions ?? [],
)
const now = computed(() => editions.value[0])
const based = computed(() => now.value?.number ?? 0)
/** What is typed on each paper; another paper, or a closed page, does not lose it. */
const SHAPE = 1
const keeps = PAPERS.map((of) => keptDraft<Template>(me.value?.id ?? 0, `paper-${of}`, SHAPE))
const kept = (of: Paper) => keeps[PAPERS.indexOf(of)]!
const form = ref<Template | null>(null)
function begin(): void {
  const edition = now.value
  if (!edition) return
  const before = kept(paper.value).get()
  form.value = before?.version === edition.number ? before.state : templateOf(edition)
}
watch([now, paper], begin, { immediate: true })
const changed = computed(
  () => !!form.value && !!now.value && !samePaper(form.value, templateOf(now.value)),
)
watch(
  form,
  (typed) => {
    if (!typed || !now.value) return
    if (changed.value) kept(paper.value).put({ version: now.value.number, state: typed })
    else kept(paper.value).clear()
  },
  { deep: true },
)
const { pages, fault, busy: setting } = useTrial(form, toRef(language))

const remark = ref('')
const { busy, run } = useAct()
const path = computed(() => ({ params: { path: { paper: paper.value } } }))
const papers = PAPERS.map((value) => ({ value, label: t(`papers.names.${value}`) }))

async function done(words: string): Promise<void> {
  kept(paper.value).clear()
  remark.value = ''
  await refetch()
  begin()
  say(words)
}
const save = () =>
  run(async () => {
    if (!form.value) return
    const body = { ...form.value, based_on: based.value, remark: remark.value }
    await take(api.POST('/api/papers/{paper}', { ...path.value, body }))
    await done(t('papers.kept'))
  })
const back = (to: number) =>
  run(async () => {
    const body = { based_on: based.value, to }
    await take(api.POST('/api/papers/{paper}/back', { ...path.value, body }))
    await done(to ? t('papers.countsAgain', { number: to }) : t('papers.asShipped'))
  })
function forget(): void {
  kept(paper.value).clear()
  begin()
}
</script>

<template>
  <div class="page">
    <header class="top">
      <h1>{{ t('app.titles.papers') }}</h1>
      <SegmentFilter
        :model-value="paper"
        :choices="papers"
        :label="t('terms.paper')"
        @update:model-value="(to) => (filters.paper.value = to)"
      />
    </header>
    <LoadState v-if="!data || !form" :error="error" @again="refetch()" />
    <div v-else class="halves">
      <ElForm class="card" label-position="top" @submit.prevent="save">
        <PaperLook v-model="form.look" :sizes="data.sizes" :columns="data.columns" />
        <PaperWords
          v-model="form.wording"
          :language="language"
          :papers="data"
          @language="(to) => (filters.language.value = to)"
        />
        <LayoutSource v-model="form.source" :shipped="data.shipped_layout" />
        <p v-if="fault" class="fault" role="alert">{{ fault.message }}</p>
        <div class="acts">
          <ElInput
            v-model="remark"
            maxlength="200"
            :placeholder="t('papers.remarkHint')"
            :aria-label="t('papers.remark')"
          />
          <ElButton
            type="primary"
            native-type="submit"
            :loading="busy"
            :disabled="!changed || !!fault"
          >
            {{ t('papers.keep', { number: based + 1 }) }}
          </ElButton>
          <ElButton text :disabled="!changed" @click="forget">{{ t('papers.forget') }}</ElButton>
        </div>
        <EditionList :editions="editions" :busy="busy" @back="back" />
      </ElForm>
      <PaperPreview :pages="pages" :busy="setting" :fault="fault" />
    </div>
  </div>
</template>

<style scoped>
.top {
  display: flex;
  gap: 8px 18px;
  align-items: baseline;
  flex-wrap: wrap;
  margin-bottom: 10px;
}
.halves {
  display: grid;
  grid-template-columns: minmax(340px, 5fr) 6fr;
  gap: 16px;
  align-items: start;
}
.acts {
  display: flex;
  gap: 8px;
  margin: 12px 0;
}
@media (max-width: 900px) {
  .halves {
    grid-template-columns: 1fr;
  }
}
</style>
