import { describe, expect, it, vi } from 'vitest'

let tell: (build: string) => void = () => undefined
vi.mock('@/api/client', () => ({ whenBuild: (told: typeof tell) => (tell = told) }))

/** The page as the server of this build wrote it. */
async function page(build: string) {
  document.head.innerHTML = `<meta name="build" content="${build}">`
  vi.resetModules()
  const module = await import('./build')
  module.watchBuild()
  return module.newerBuild
}

describe('a newer build on the server', () => {
  it('is noticed by the first answer of it, and stays noticed when an older answer comes in late', async () => {
    const newer = await page('a'.repeat(12))
    tell('a'.repeat(12))
    expect(newer.value).toBe(false)
    tell('b'.repeat(12))
    tell('a'.repeat(12))
    expect(newer.value).toBe(true)
  })
})
