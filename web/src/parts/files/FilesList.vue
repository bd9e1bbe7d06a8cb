<script setup lang="ts">
/** Files beside a record: chosen, dropped, pasted or photographed; shown small, marked for the buyer, taken away. */
import { useEventListener } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import ChoiceField, { type Choice } from '@/kit/form/ChoiceField.vue'
import { moment } from '@/kit/format/format'
import LoadState from '@/kit/show/LoadState.vue'
import { t } from '@/words'
import { filesIn, pastedIn, sizeOf, useFiles, type Kind } from './files'

const props = defineProps<{
  kind: Kind
  record: number
  /** Whether it can be changed by who looks at it, and as it stands. */
  may: boolean
  /** Whether a paper goes out from here that files can go with. */
  paper?: boolean
  /** The lines that a file can belong to. */
  lines?: Choice<string>[]
  /** Whether it is one of several on its page: what is pasted there is not for it. */
  among?: boolean
}>()

const { files, error, refetch, adding, busy, add, mark, remove } = useFiles(
  props.kind,
  () => props.record,
)
const line = ref<string | null>(null)
const over = ref(false)
const choose = useTemplateRef('choose')
const photo = useTemplateRef('photo')
const choices = computed(() => [{ value: '', label: t('files.whole') }, ...(props.lines ?? [])])
function put(found: File[]): void {
  over.value = false
  if (props.may && found.length) void add(found, line.value ?? '')
}
function chosen(event: Event): void {
  const input = event.target as HTMLInputElement
  put([...(input.files ?? [])])
  input.value = ''
}
if (!props.among) useEventListener(window, 'paste', (event) => put(pastedIn(event.clipboardData)))
const address = (id: number) => `/api/kept-files/${id}`
</script>

<template>
  <div
    class="files"
    :class="{ over }"
    @dragover.prevent="over = may"
    @dragleave="over = false"
    @drop.prevent="put(filesIn($event.dataTransfer))"
  >
    <LoadState v-if="!files" :error="error" :rows="2" @again="refetch()" />
    <ul v-else-if="files.length">
      <li v-for="file in files" :key="file.id">
        <a
          class="picture"
          :href="address(file.id)"
          target="_blank"
          :aria-label="t('files.open', { name: file.name })"
        >
          <img v-if="file.picture" :src="address(file.id)" alt="" loading="lazy" />
          <span v-else>{{ file.name.split('.').at(-1)?.slice(0, 4).toUpperCase() }}</span>
        </a>
        <div class="what">
          <a :href="address(file.id)" target="_blank">{{ file.name }}</a>
          <small class="soft">
            {{ sizeOf(file.size) }} · {{ file.added_by }}, {{ moment(file.added_at) }}
            <template v-if="file.line_text">· {{ file.line_text }}</template>
            <template v-if="file.of">· {{ t('files.of', { offer: file.of }) }}</template>
          </small>
          <ElCheckbox
            v-if="paper && may && !file.fixed"
            :model-value="file.with_paper"
            :disabled="busy"
            :aria-label="t('files.paperOf', { name: file.name })"
            @update:model-value="(now) => mark(file, Boolean(now))"
            >{{ t('files.paper') }}</ElCheckbox
          >
          <small v-else-if="file.with_paper">{{ t('files.paper') }}</small>
        </div>
        <ElButton
          v-if="may && !file.fixed"
          text
          size="small"
          :disabled="busy"
          :aria-label="t('files.remove', { name: file.name })"
          @click="remove(file)"
          >✕</ElButton
        >
      </li>
    </ul>
    <p v-else class="soft">{{ t('files.none') }}</p>
    <template v-if="may">
      <ChoiceField
        v-if="lines?.length"
        v-model="line"
        :choices="choices"
        :label="t('files.line')"
        :placeholder="t('files.whole')"
        small
        class="line"
      />
      <p class="acts">
        <input ref="choose" type="file" multiple hidden @change="chosen" />
        <input
          ref="photo"
          type="file"
          accept="image/*"
          capture="environment"
          hidden
          @change="chosen"
        />
        <ElButton size="small" :loading="Boolean(adding)" @click="choose?.click()">{{
          t('files.add')
        }}</ElButton>
        <ElButton size="small" class="camera" @click="photo?.click()">{{
          t('files.photo')
        }}</ElButton>
        <span class="soft" role="status">{{
          adding ? t('files.busy', { name: adding }) : among ? t('files.dropHere') : t('files.drop')
        }}</span>
      </p>
    </template>
  </div>
</template>

<style scoped>
.files.over {
  outline: 2px dashed var(--coral);
  outline-offset: 6px;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 8px 16px;
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
}
li {
  display: flex;
  gap: 10px;
  align-items: flex-start;
}
.picture {
  flex: 0 0 56px;
  height: 56px;
  display: grid;
  place-items: center;
  background: var(--paper);
  border: 1px solid var(--rule);
  font-size: 12px;
  font-weight: 700;
  text-decoration: none;
  overflow: hidden;
}
.picture img {
  width: 100%;
  height: 100%;
  object-fit: cover;
}
.what {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  overflow-wrap: anywhere;
}
.line {
  max-width: 360px;
  margin: 6px 0 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
/* A laptop's camera is no help with a field. */
.camera {
  display: none;
}
@media (pointer: coarse) {
  .camera {
    display: inline-flex;
  }
}
</style>
