/** In place of the words at the foot of the screen: they are written down. */
const heard = () => (globalThis as unknown as { notices: string[] }).notices
export function say(words: string): void {
  heard().push(words)
}
export function complain(problem: unknown): void {
  heard().push(problem instanceof Error ? problem.message : String(problem))
}
export function settle(): void {}
