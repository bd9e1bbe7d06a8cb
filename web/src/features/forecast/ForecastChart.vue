<script setup lang="ts">
/** The weighted forecast by month and stage; a bar opens its deals. */
import { BarChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Shapes } from '@/api/client'
import { figure } from '@/kit/format/format'
import { isDark } from '@/kit/theme/theme'
import { t } from '@/words'
import { chartOption } from './chartOption'
import { monthName } from './months'

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{ forecast: Shapes['ForecastOut'] }>()
const emit = defineEmits<{ open: [month: string, stage: string] }>()
const option = computed(() => chartOption(props.forecast, isDark.value, monthName))
const summary = computed(() =>
  props.forecast.months
    .map((each) =>
      t('forecast.month', { month: monthName(each.key), amount: figure(each.weighted) }),
    )
    .join('; '),
)
function clicked(event: { data?: unknown }): void {
  const { name = '' } = (event.data ?? {}) as { name?: string }
  const [month, stage] = name.split('|')
  if (month && stage) emit('open', month, stage)
}
</script>

<template>
  <VChart
    class="chart"
    :option="option"
    autoresize
    role="img"
    :aria-label="summary"
    @click="clicked"
  />
</template>

<style scoped>
.chart {
  height: 260px;
}
</style>
