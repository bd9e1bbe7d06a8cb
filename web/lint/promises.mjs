/**
 * No promise is left alone: the two rules that need types, over all of src/ in one TypeScript program.
 *
 * The linter's own way to types takes a new program for each .vue file, and five times as long. Here the
 * scripts of the .vue files lie as X.vue.ts beside copies of the .ts files, line for line, and one program
 * reads them all. What is found is told by the place it came from.
 */
import { ESLint } from 'eslint'
import {
  cpSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript-eslint'

process.env.TSESTREE_SINGLE_RUN = 'true'
const web = dirname(dirname(fileURLToPath(import.meta.url)))
const copy = join(web, '.typed')
/** Its opening, in whose quotes there may be anything; what is within. */
const SCRIPT = /(<script(?:"[^"]*"|[^">])*>)([\s\S]*?)<\/script>/g

/** The scripts alone, each in its line; all else is empty. */
function scriptsOf(text) {
  const kept = [...text.matchAll(SCRIPT)].map((found) => {
    const start = found.index + found[1].length
    return [start, start + found[2].length]
  })
  const isKept = (at) => kept.some(([from, to]) => at >= from && at < to)
  return text.replace(/[^\n]/g, (sign, at) => (isKept(at) ? sign : ' '))
}

rmSync(copy, { recursive: true, force: true })
mkdirSync(copy)
for (const name of readdirSync(join(web, 'src'), { recursive: true })) {
  const [from, to] = [join(web, 'src', name), join(copy, 'src', name)]
  if (name.endsWith('.ts')) cpSync(from, to, { recursive: true })
  else if (name.endsWith('.vue')) {
    mkdirSync(dirname(to), { recursive: true })
    writeFileSync(`${to}.ts`, scriptsOf(readFileSync(from, 'utf8')))
  }
}
symlinkSync(join(web, '..', 'words'), join(copy, 'words'))
const tsconfig = JSON.parse(readFileSync(join(web, 'tsconfig.json'), 'utf8'))
tsconfig.compilerOptions.paths = { '@/*': ['./src/*'], '@words/*': ['./words/*'] }
tsconfig.include = ['src/**/*.ts']
writeFileSync(join(copy, 'tsconfig.json'), JSON.stringify(tsconfig))

const eslint = new ESLint({
  cwd: copy,
  overrideConfigFile: true,
  overrideConfig: [
    {
      files: ['**/*.ts'],
      linterOptions: { reportUnusedDisableDirectives: 'off' },
      languageOptions: {
        parser: ts.parser,
        parserOptions: { project: ['./tsconfig.json'], tsconfigRootDir: copy },
      },
      plugins: { '@typescript-eslint': ts.plugin },
      rules: {
        '@typescript-eslint/no-floating-promises': 'error',
        '@typescript-eslint/no-misused-promises': ['error', { checksVoidReturn: false }],
      },
    },
  ],
})
const found = (await eslint.lintFiles(['src'])).flatMap(({ filePath, messages }) =>
  messages.map(
    ({ line, column, message }) =>
      `web${filePath.slice(copy.length).replace(/\.vue\.ts$/, '.vue')}:${line}:${column} ${message}`,
  ),
)
rmSync(copy, { recursive: true, force: true })
for (const each of found) console.error(each)
process.exitCode = found.length ? 1 : 0
