import vue from '@vitejs/plugin-vue'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { fileURLToPath, URL } from 'node:url'
import type { Plugin } from 'vite'
import { defineConfig } from 'vitest/config'

/** What at least so many pages use is read with the first of them. */
const SHARED = 8

/** The theme's styles come before all others, as main.ts has it: what parts wear of their own is laid over it. */
const themeFirst: Plugin = {
  name: 'theme-first',
  apply: 'build',
  transformIndexHtml: {
    order: 'post',
    handler(html) {
      const theme = /\s*<link rel="stylesheet"[^>]*\/theme-[^>]*>/.exec(html)?.[0]
      if (!theme) throw new Error('index.html names no styles of the theme')
      return html.replace(theme, '').replace(/\s*<link rel="stylesheet"/, `${theme}$&`)
    },
  },
}

export default defineConfig({
  plugins: [
    vue(),
    themeFirst,
    Components({
      dts: false,
      dirs: [],
      resolvers: [ElementPlusResolver({ importStyle: process.env.VITEST ? false : 'css' })],
    }),
  ],
  resolve: {
    alias: {
      '@words': fileURLToPath(new URL('../words', import.meta.url)),
      '@': fileURLToPath(new URL('./src', import.meta.url)),
    },
  },
  // How large a first load is, is judged by ops/first_load.py.
  build: {
    chunkSizeWarningLimit: 900,
    assetsInlineLimit: 0,
    manifest: true,
    // What many pages use comes in two pieces: in many, each would cost a way to the server.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'theme', test: /[\\/]kit[\\/]theme[\\/].+\.css/, priority: 3 },
            { name: 'library', test: /node_modules/, minShareCount: SHARED, priority: 2 },
            { name: 'house', test: /[\\/](src|words)[\\/]/, minShareCount: SHARED, priority: 1 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
  test: {
    environment: 'happy-dom',
    // One browser for all files: a browser and all modules anew for each took eight times as long.
    isolate: false,
    setupFiles: ['src/test/setup.ts'],
    restoreMocks: true,
    unstubGlobals: true,
    css: false,
    // A busy machine gives these checks what the others leave.
    testTimeout: 20_000,
  },
})
