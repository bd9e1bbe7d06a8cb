<script setup lang="ts">
/** What a list offers beside its filters: kept views, the choice of columns, files. */
import { computed } from 'vue'
import type { Shapes } from '@/api/client'
import Popup from '@/kit/menu/Popup.vue'
import { t } from '@/words'
import ExportLinks from './ExportLinks.vue'
import type { Columns } from './useColumns'
import ViewsMenu from './ViewsMenu.vue'

const props = defineProps<{
  place: Shapes['ViewIn']['place']
  values: Record<string, string>
  columns: Columns
}>()
const seen = computed(() =>
  props.columns.seen.value.map((column) => column.fields ?? column.key).join(','),
)
</script>

<template>
  <span class="tools">
    <ViewsMenu :place="place" :columns="columns" />
    <Popup :label="t('list.columns.label')" small>
      <ul>
        <li v-for="column in columns.all.value.filter((c) => !c.fixed)" :key="column.key">
          <ElCheckbox
            :model-value="columns.seen.value.includes(column)"
            @change="columns.toggle(column.key)"
            >{{ column.label }}</ElCheckbox
          >
        </li>
        <li v-if="columns.chosen.value.length">
          <ElButton size="small" @click="columns.choose([])">{{
            t('list.columns.usual')
          }}</ElButton>
        </li>
      </ul>
    </Popup>
    <ExportLinks :path="`/api/${place}`" :values="{ ...values, columns: seen }" />
  </span>
</template>

<style scoped>
.tools {
  display: flex;
  align-items: center;
  margin-left: auto;
}
</style>
