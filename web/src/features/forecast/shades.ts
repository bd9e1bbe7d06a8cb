/** Shades along the pipeline, light to dark, so that the order holds in greyscale too. */
const LIGHT = [[201, 222, 214], [14, 122, 107], [18, 51, 43]] // prettier-ignore
const DARK = [[47, 95, 86], [79, 196, 176], [234, 247, 243]] // prettier-ignore

/** As many shades as there are stages, each told from its neighbours. */
export function shades(count: number, dark: boolean): string[] {
  const stops = dark ? DARK : LIGHT
  return Array.from({ length: count }, (_, n) => {
    const part = (count < 2 ? 0.5 : n / (count - 1)) * (stops.length - 1)
    const at = Math.min(Math.floor(part), stops.length - 2)
    const [from = [], to = []] = [stops[at], stops[at + 1]]
    const mixed = from.map((value, k) =>
      Math.round(value + ((to[k] ?? value) - value) * (part - at)),
    )
    return `rgb(${mixed.join(', ')})`
  })
}
