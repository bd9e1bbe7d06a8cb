/** Builds the quote desk without a screen, for tests that drive it from outside (tests/server). */
import { fileURLToPath, URL } from 'node:url'
import { defineConfig } from 'vite'

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  resolve: {
    alias: [
      { find: /^(@\/kit\/act|\.)\/notices$/, replacement: at('./src/test/notices.ts') },
      { find: /^@words\//, replacement: at('../words/') },
      { find: /^@\//, replacement: at('./src/') },
    ],
  },
  build: {
    ssr: 'src/test/desk.harness.ts',
    outDir: 'node_modules/.desk',
    emptyOutDir: true,
    copyPublicDir: false,
  },
})
