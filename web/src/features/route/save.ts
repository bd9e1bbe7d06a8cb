/** A drawn SVG as a file of its own: with the colours that are on the screen, without what a page needs. */
const KEPT = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'stroke-linecap', 'font-size', 'font-weight', 'font-family'] // prettier-ignore

export function svgText(drawn: SVGSVGElement): string {
  const copy = drawn.cloneNode(true) as SVGSVGElement
  const from = [drawn, ...drawn.querySelectorAll<SVGElement>('*')]
  const to = [copy, ...copy.querySelectorAll<SVGElement>('*')]
  from.forEach((node, n) => {
    const style = getComputedStyle(node)
    const target = to[n]
    if (!target) return
    for (const name of KEPT) {
      const value = style.getPropertyValue(name)
      if (value) target.setAttribute(name, value)
    }
    for (const name of ['class', 'tabindex', 'data-id', 'href', 'style'])
      target.removeAttribute(name)
  })
  const [, , width = '0', height = '0'] = (drawn.getAttribute('viewBox') ?? '').split(' ')
  copy.setAttribute('width', width)
  copy.setAttribute('height', height)
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(copy)}`
}
export function saveSvg(drawn: SVGSVGElement, name: string): void {
  const address = URL.createObjectURL(new Blob([svgText(drawn)], { type: 'image/svg+xml' }))
  const link = document.createElement('a')
  link.href = address
  link.download = `${name}.svg`
  link.click()
  setTimeout(() => URL.revokeObjectURL(address), 1_000)
}
