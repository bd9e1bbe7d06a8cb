import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import { readdirSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import ts from 'typescript-eslint'

/**
 * Rules that need types are in lint/promises.mjs.
 *
 * The layers, the lowest first: each may import those before it (docs/decisions/0013).
 * Of the features none imports another; what two of them share is a part.
 */
const LAYERS = ['words', 'api', 'kit', 'parts', 'features', 'app']
const features = readdirSync(fileURLToPath(import.meta.resolve('./src/features')))

const nothingFrom = (files, places, message) => ({
  files,
  rules: {
    'no-restricted-imports': [
      'error',
      {
        patterns: [
          { group: ['../*'], message: 'Write @/… for another folder.' },
          { group: places.flatMap((place) => [`@/${place}`, `@/${place}/*`]), message },
        ],
      },
    ],
  },
})
const layers = LAYERS.filter((layer) => !['features', 'app'].includes(layer)).map((layer) =>
  nothingFrom(
    [`src/${layer}/**`],
    LAYERS.slice(LAYERS.indexOf(layer) + 1),
    `${layer} lies below: features → parts → kit → api → words, app above.`,
  ),
)
const areas = features.map((area) =>
  nothingFrom(
    [`src/features/${area}/**`],
    ['app', ...features.filter((other) => other !== area).map((other) => `features/${other}`)],
    'No feature imports another, nor the app: what two share is a part.',
  ),
)

export default ts.config(
  { ignores: ['dist', '.typed', 'node_modules', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    files: ['src/**/*.{ts,vue}'],
    languageOptions: { globals: globals.browser, parserOptions: { parser: ts.parser } },
    rules: {
      'vue/multi-word-component-names': 'off',
      'max-lines': ['error', { max: 250 }],
    },
  },
  { files: ['lint/*.mjs'], languageOptions: { globals: globals.node } },
  { files: ['src/**/*.test.ts', 'src/words/**'], rules: { 'max-lines': 'off' } },
  ...layers,
  ...areas,
  { files: ['src/**/*.test.ts'], rules: { 'no-restricted-imports': 'off' } },
  prettier,
)
