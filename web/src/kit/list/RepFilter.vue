<script setup lang="ts">
/** Whose records: one person's, or the whole team's; for those who lead one. */
import { computed } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import { t } from '@/words'

const owner = defineModel<string>({ required: true })
const choices = computed(() => [
  { value: '', label: t('list.team') },
  ...(me.value?.people ?? []).map((person) => ({ value: String(person.id), label: person.name })),
])
</script>

<template>
  <ChoiceField
    v-if="me?.leads"
    class="rep"
    :model-value="owner"
    :choices="choices"
    :label="t('list.rep')"
    bare
    small
    @update:model-value="(chosen) => (owner = chosen ?? '')"
  />
</template>

<style scoped>
.rep {
  width: 160px;
}
</style>
