/** The forecast as bars: a bar a month, stacked by stage. */
import type { Shapes } from '@/api/client'
import { figure, rough, size } from '@/kit/format/format'
import { t } from '@/words'
import { shades } from './shades'

type Forecast = Shapes['ForecastOut']
const MOST_WIDE = 64

/** A forecast month in words. */
export function chartOption(found: Forecast, dark: boolean, monthName: (key: string) => string) {
  const ink = dark ? '#a9b9b1' : '#50655d'
  const rule = dark ? '#2f453e' : '#dcd6c6'
  const colours = shades(found.stages.length, dark)
  return {
    textStyle: { fontFamily: 'Hanken Grotesk Variable', color: ink },
    animation: false,
    grid: { left: 8, right: 8, top: 34, bottom: 4, containLabel: true },
    legend: {
      type: 'scroll',
      pageIconColor: ink,
      top: 0,
      left: 0,
      right: 0,
      itemWidth: 12,
      itemHeight: 12,
      textStyle: { color: ink },
    },
    // Text, never HTML: stages are named by people.
    tooltip: { trigger: 'item', renderMode: 'richText' },
    xAxis: {
      type: 'category',
      data: found.months.map((each) => monthName(each.key)),
      axisLine: { lineStyle: { color: ink, width: 2 } },
      axisTick: { show: false },
      axisLabel: { color: ink },
    },
    yAxis: {
      type: 'value',
      splitLine: { lineStyle: { color: rule } },
      axisLabel: { color: ink, formatter: (value: number) => rough(String(value)) },
    },
    series: found.stages.map((stage, n) => ({
      name: stage.name,
      type: 'bar',
      stack: 'all',
      barMaxWidth: MOST_WIDE,
      itemStyle: { color: colours[n], borderColor: dark ? '#172a25' : '#fffdf7', borderWidth: 1 },
      data: found.months.map((each) => ({
        value: size(each.stages[stage.key]?.weighted ?? '0'),
        name: `${each.key}|${stage.key}`,
      })),
      tooltip: {
        formatter: ({ name }: { name: string }) => {
          const [key = '', code = ''] = name.split('|')
          const cell = found.months.find((each) => each.key === key)?.stages[code]
          const facts = { stage: stage.name, month: monthName(key), amount: figure(cell?.weighted) }
          return t('forecast.bar', facts)
        },
      },
    })),
  }
}
