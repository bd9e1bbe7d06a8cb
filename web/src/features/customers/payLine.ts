/** The points of a small line over months; a month without a figure breaks it. */

/** The scale's top: the most days of any month, to a whole ten, and not less than ten. */
export function spanOf(days: (number | null)[]): number {
  const most = Math.max(10, ...days.map((each) => each ?? 0))
  return Math.ceil(most / 10) * 10
}

/** The line's pieces as SVG paths, and a dot for each figure. */
export function pathOf(
  days: (number | null)[],
  width: number,
  height: number,
): { paths: string[]; dots: { x: number; y: number }[] } {
  const step = days.length > 1 ? width / (days.length - 1) : 0
  const top = spanOf(days)
  const at = (each: number, n: number) => ({
    x: round(n * step),
    y: round(height - (Math.max(0, each) / top) * height),
  })
  const paths: string[] = []
  const dots: { x: number; y: number }[] = []
  let piece = ''
  days.forEach((each, n) => {
    if (each === null) {
      if (piece) paths.push(piece)
      piece = ''
      return
    }
    const dot = at(each, n)
    dots.push(dot)
    piece += `${piece ? 'L' : 'M'}${dot.x} ${dot.y}`
  })
  if (piece) paths.push(piece)
  return { paths, dots }
}

const round = (value: number) => Math.round(value * 10) / 10
