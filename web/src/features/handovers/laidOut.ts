/** What went over the wire, laid out to be read: JSON by its parts, a paper in it by its elements. */
export function laidOut(raw: string): string {
  let told: unknown
  try {
    told = JSON.parse(raw)
  } catch {
    return raw
  }
  const paper = paperIn(told)
  if (paper === null) return JSON.stringify(told, null, 2)
  return elements(paper)
}
function paperIn(told: unknown): string | null {
  const data = told && typeof told === 'object' ? (told as { data?: unknown }).data : undefined
  const ubl = data && typeof data === 'object' ? (data as { ubl?: unknown }).ubl : undefined
  return typeof ubl === 'string' ? ubl : null
}
/** One element to a line, as deep as it lies. */
function elements(xml: string): string {
  const parts = xml.replace(/></g, '>\n<').split('\n')
  let depth = 0
  return parts
    .map((part) => {
      if (part.startsWith('</')) depth -= 1
      const line = '  '.repeat(Math.max(depth, 0)) + part
      const opens = part.startsWith('<') && !part.startsWith('</') && !part.startsWith('<?')
      if (opens && !part.endsWith('/>') && !part.includes('</')) depth += 1
      return line
    })
    .join('\n')
}
