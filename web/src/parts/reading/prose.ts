/** Whether what was pasted is a mail or a table. */
const SENTENCE = /[a-zäöüß]{2,}[^\n]*[.!?,](\s|$)/i
/** Whether a pasted text is prose and no table: sentences, no cells. */
export function isProse(text: string): boolean {
  const lines = text.split('\n').filter((line) => line.trim())
  if (lines.some((line) => line.includes('\t'))) return false
  const long = lines.filter((line) => line.trim().split(/\s+/).length > 5 && SENTENCE.test(line))
  return long.length > 0 && lines.every((line) => (line.match(/[;|]/g) ?? []).length < 2)
}
