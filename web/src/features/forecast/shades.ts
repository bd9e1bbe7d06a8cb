/** Shades along the pipeline, light to dark, so that the order holds in greyscale too. */
const LIGHT = { from: [201, 222, 214], to: [18, 51, 43] } as const
const DARK = { from: [47, 95, 86], to: [234, 247, 243] } as const

/** As many shades as there are stages, each told from its neighbours. */
export function shades(count: number, dark: boolean): string[] {
  const { from, to } = dark ? DARK : LIGHT
  return Array.from({ length: count }, (_, n) => {
    const part = count < 2 ? 0.5 : n / (count - 1)
    const mixed = from.map((value, at) => Math.round(value + ((to[at] ?? value) - value) * part))
    return `rgb(${mixed.join(', ')})`
  })
}
