/** What was put is on the screen: what follows does not hold it up. */
const AT_MOST_MS = 60

/** After the next frame; in a tab that nobody looks at, where none is drawn, a moment later. */
export function drawn(): Promise<void> {
  return new Promise((done) => {
    setTimeout(done, AT_MOST_MS)
    requestAnimationFrame(() => setTimeout(done))
  })
}
