<script setup lang="ts">
/** Whether a mail is asked about later: when, and by whom. */
import { computed } from 'vue'
import { me } from '@/api/session'
import ChoiceField from '@/kit/form/ChoiceField.vue'
import DayField from '@/kit/form/DayField.vue'
import { todayIso } from '@/kit/format/format'
import { t } from '@/words'

const on = defineModel<boolean>('on', { required: true })
const day = defineModel<string | null>('day', { required: true })
/** Nobody: oneself. */
const who = defineModel<number | null>('who', { required: true })
const colleagues = computed(() =>
  (me.value?.colleagues ?? []).map(({ id, name }) => ({ value: id, label: name })),
)
</script>

<template>
  <div class="follow">
    <ElCheckbox v-model="on">{{ t('mail.follow') }}</ElCheckbox>
    <DayField
      v-if="on"
      v-model="day"
      class="field"
      bare
      small
      :from="todayIso()"
      :label="t('mail.followOn')"
    />
    <ChoiceField
      v-if="on && colleagues.length > 1"
      class="field"
      :model-value="who ?? me?.id ?? null"
      :choices="colleagues"
      :label="t('mail.followBy')"
      bare
      small
      @update:model-value="(id) => (who = id ?? null)"
    />
  </div>
</template>

<style scoped>
.follow {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
}
.field {
  width: 150px;
  margin: 0;
}
</style>
