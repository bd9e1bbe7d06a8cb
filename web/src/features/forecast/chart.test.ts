import { describe, expect, it } from 'vitest'
import type { Shapes } from '@/api/client'
import { chartOption } from './chartOption'
import { shades } from './shades'

describe('the forecast’s bars', () => {
  it('have a shade each, however many stages a team has', () => {
    for (const count of [1, 3, 5, 9]) expect(new Set(shades(count, false)).size).toBe(count)
  })
  it('name a stage as text, whatever a team calls it', () => {
    const name = '<img src=x onerror=alert(1)>'
    const forecast = {
      stages: [{ key: 's', name, weighted: '5.00' }],
      months: [{ key: '2026-12', weighted: '5.00', stages: { s: { weighted: '5.00' } } }],
    } as unknown as Shapes['ForecastOut']
    const option = chartOption(forecast, false, (key) => key)
    expect(option.tooltip.renderMode).toBe('richText')
    const said = option.series[0]!.tooltip.formatter({ name: '2026-12|s' })
    expect(said).toBe(`${name}, 2026-12: 5.00 weighted`)
  })
})
