/**
 * No promise is left alone: the two rules that need types, over all of src/ in one TypeScript program.
 *
 * The linter's own way to types takes a new program for each .vue file, and far longer. Here the
 * scripts of the .vue files lie as X.vue.ts beside copies of the .ts files, line for line, in a folder of
 * their own, and one program reads them all. What is found is told by the place it came from.
 */
import { spawnSync } from 'node:child_process'
import {
  cpSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { delimiter, dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const web = dirname(dirname(fileURLToPath(import.meta.url)))
const tools = join(web, 'node_modules', '.bin')
/** Its opening, in whose quotes there may be anything; what is within. */
const SCRIPT = /(<script(?:"[^"]*"|[^">])*>)([\s\S]*?)<\/script>/g
const RULES = {
  plugins: ['typescript'],
  categories: { correctness: 'off' },
  rules: {
    'typescript/no-floating-promises': 'error',
    'typescript/no-misused-promises': ['error', { checksVoidReturn: false }],
  },
}
/** Told of besides what is wrong: how many there are. */
const COUNTED = /^\d+ problems?$/

/** The scripts alone, each in its line; all else is empty. */
function scriptsOf(text) {
  const kept = [...text.matchAll(SCRIPT)].map((found) => {
    const start = found.index + found[1].length
    return [start, start + found[2].length]
  })
  const isKept = (at) => kept.some(([from, to]) => at >= from && at < to)
  return text.replace(/[^\n]/g, (sign, at) => (isKept(at) ? sign : ' '))
}

function copyInto(copy) {
  for (const name of readdirSync(join(web, 'src'), { recursive: true })) {
    const [from, to] = [join(web, 'src', name), join(copy, 'src', name)]
    if (name.endsWith('.ts')) cpSync(from, to, { recursive: true })
    else if (name.endsWith('.vue')) {
      mkdirSync(dirname(to), { recursive: true })
      writeFileSync(`${to}.ts`, scriptsOf(readFileSync(from, 'utf8')))
    }
  }
  symlinkSync(join(web, '..', 'words'), join(copy, 'words'))
  symlinkSync(join(web, 'node_modules'), join(copy, 'node_modules'))
  const tsconfig = JSON.parse(readFileSync(join(web, 'tsconfig.json'), 'utf8'))
  tsconfig.compilerOptions.paths = { '@/*': ['./src/*'], '@words/*': ['./words/*'] }
  tsconfig.include = ['src/**/*.ts']
  writeFileSync(join(copy, 'tsconfig.json'), JSON.stringify(tsconfig))
  writeFileSync(join(copy, 'rules.json'), JSON.stringify(RULES))
}

const copy = mkdtempSync(join(tmpdir(), 'typed-'))
try {
  copyInto(copy)
  const asked = ['--type-aware', '-c', 'rules.json', '-f', 'unix', 'src']
  const { status, stdout, stderr } = spawnSync(join(tools, 'oxlint'), asked, {
    cwd: copy,
    encoding: 'utf8',
    env: { ...process.env, PATH: `${tools}${delimiter}${process.env.PATH}` },
  })
  const told = `${stdout}${stderr}`.split('\n').filter((line) => line && !COUNTED.test(line))
  for (const line of told)
    console.error(
      line.replace(
        /^src\/(.*?)(\.vue)?\.ts:/,
        (whole, name, vue) => `web/src/${name}${vue ?? '.ts'}:`,
      ),
    )
  process.exitCode = status === 0 && !told.length ? 0 : 1
} finally {
  rmSync(copy, { recursive: true, force: true })
}
