// npm run mutate -- --area rules: puts small errors into random lines of an area, one at a time, and counts how many its
// tests notice. The work is done in a copy of the project, by Stryker.
import { execFileSync, spawnSync } from 'node:child_process'
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { parseArgs } from 'node:util'
import { hashOf } from './mutate-plugin.mjs'

const CORE = 'packages/core/src/'
const inExamples = (...names) => names.map((name) => `examples/test/${name}.test.ts`)
const areas = {
  engine: {
    files: [
      'cells',
      'chance',
      'engine',
      'inputs',
      'kit',
      'plan',
      'record',
      'rows',
      'rule',
      'rulebook',
      'sight',
      'time',
      'views',
    ].map((room) => CORE + room),
    tests: ['packages/core/test/**/*.test.ts', ...inExamples('snapshot', 'record-format')],
  },
  rules: { files: [`${CORE}rules`], tests: ['packages/core/test/**/*.test.ts'] },
  examples: {
    files: ['bell', 'brew', 'kettle', 'lantern', 'mussels', 'pond', 'post', 'regatta', 'stones'].map(
      (mode) => `examples/src/${mode}`,
    ),
    tests: [
      'examples/test/*.test.ts',
      'packages/cli/test/printed.test.ts',
      // A minute for each error; and mistakes reads the text of the code, in which the errors stand.
      ...inExamples('faults', 'sameness', 'offers', 'laws-of-the-whole', 'sight-audit', 'mistakes').map(
        (file) => `!${file}`,
      ),
    ],
  },
  venue: {
    // A worker is a process of what is built; the front that spreads matches over workers runs in that of a test.
    files: ['packages/venue/src', ':!packages/venue/src/workers/run-worker.ts'],
    // What passes on to another venue is met with in a circuit.
    tests: ['packages/venue/test/*.test.ts', 'packages/circuit/test/circuit.test.ts'],
    built: true,
  },
  command: {
    // What runs in the process of a test. Tests start load, serve, new and workers as processes of what is built.
    files: [
      ...['audit/asked', 'errors', 'main', 'play/moment-watch', 'play/play-demo'].map((file) => `${file}.ts`),
      ...[
        'demo',
        'describe',
        'erase',
        'options',
        'parse-time',
        'replay',
        'sheet',
        'sightcheck',
        'sights',
        'view',
      ].map((verb) => `verbs/${verb}.ts`),
      'modes',
      'print',
    ].map((part) => `packages/cli/src/${part}`),
    tests: ['packages/cli/test/verbs.test.ts', 'packages/cli/test/printed.test.ts'],
    built: true,
  },
}
/** They find errors, too, but take a minute for each, or start processes that the errors do not reach. */
const leftOut = [
  'planted-leaks',
  'fuzz',
  'secrets-of-rules',
  'type-cost',
  'page',
  'keyboard',
  '*in-browser',
  'guide',
  'errors-page',
  'killed',
  'any-language',
].map((name) => `**/${name}.test.ts`)

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    area: { type: 'string' },
    lines: { type: 'string', default: '40' },
    seed: { type: 'string' },
    help: { type: 'boolean' },
  },
})
const seed = values.seed ?? String(Date.now() % 1_000_000)
const count = Number(values.lines)
const area = values.area === undefined ? undefined : areas[values.area]
if (values.help || !(count > 0) || (area === undefined && positionals.length === 0)) {
  console.log(`npm run mutate -- --area rules               40 random lines of: ${Object.keys(areas).join(', ')}
npm run mutate -- --area rules --lines 80    of 80 lines
npm run mutate -- --area rules --seed 17     the same lines again
npm run mutate -- FILES                      every line of these files of the core

Prints each error that no test noticed, and the share that was noticed.`)
  process.exit(values.help ? 0 : 2)
}

const { tests } = area ?? areas.rules
const root = fileURLToPath(new URL('..', import.meta.url))
const listed = (paths) =>
  execFileSync('git', ['ls-files', '-co', '--exclude-standard', '--', ...paths], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter((path) => path !== '' && existsSync(join(root, path)))
const sources = (area === undefined ? positionals : listed(area.files)).filter((path) =>
  /(?<!\.d)\.tsx?$/.test(path),
)
const mutate = area === undefined ? sources : randomLines(sources)

const copy = mkdtempSync(join(tmpdir(), 'zinc-mutate-'))
try {
  for (const path of listed(['.'])) cpSync(join(root, path), join(copy, path))
  linkPackages()
  // Some tests start processes of what is built: without the errors, which come later.
  if (area?.built) execFileSync(join(copy, 'node_modules/.bin/tsc'), ['-b'], { cwd: copy })
  writeFileSync(
    join(copy, 'stryker.config.json'),
    JSON.stringify({
      testRunner: 'vitest',
      plugins: ['@stryker-mutator/vitest-runner', './scripts/mutate-plugin.mjs'],
      checkers: ['one-a-line'],
      vitest: { configFile: 'vitest.mutate.config.ts', related: false },
      inPlace: true,
      coverageAnalysis: 'perTest',
      concurrency: 1,
      timeoutFactor: 3,
      dryRunTimeoutMinutes: 30,
      ignoreStatic: true,
      // Texts are for people: a test that holds each word of them would only be in the way.
      mutator: { excludedMutations: ['StringLiteral', 'Regex'] },
      mutate,
      reporters: ['as-found', 'json'],
      jsonReporter: { fileName: 'mutants.json' },
      allowEmpty: true,
    }),
  )
  console.log(`seed ${seed}   ${mutate.length} places of ${sources.length} files`)
  const { status } = spawnSync(join(root, 'node_modules/.bin/stryker'), ['run'], {
    cwd: copy,
    stdio: 'inherit',
    env: {
      ...process.env,
      MUTATE_SEED: seed,
      ZR_BOOKS: '8',
      MUTATE_TESTS: tests.filter((test) => !test.startsWith('!')).join(','),
      MUTATE_LEFT_OUT: [
        ...leftOut,
        ...tests.filter((test) => test.startsWith('!')).map((test) => test.slice(1)),
      ].join(','),
    },
  })
  process.exitCode = status === 0 ? judged(JSON.parse(readFileSync(join(copy, 'mutants.json'), 'utf8'))) : 1
} finally {
  rmSync(copy, { recursive: true, force: true })
}

/** Counts the errors that were tried. Returns the exit code. */
function judged({ files: found }) {
  const tried = Object.entries(found)
    .flatMap(([file, { mutants }]) =>
      mutants.map((mutant) => ({ line: `${file}:${mutant.location.start.line}`, ...mutant })),
    )
    .filter(({ status }) => !['Ignored', 'CompileError', 'RuntimeError'].includes(status))
  const missed = tried.filter(({ status }) => status === 'Survived' || status === 'NoCoverage')
  const share = (tried.length - missed.length) / Math.max(1, tried.length)
  console.log(
    `\nof ${tried.length} lines with one error each, ${tried.length - missed.length} were noticed: ${Math.round(share * 100)} %`,
  )
  for (const { line, mutatorName, replacement } of missed)
    console.log(`  ${line}   ${mutatorName}   ${replacement}`)
  return share >= 0.85 ? 0 : 1
}

/** Lines with code in them, drawn by the seed: each as 'file:line:column-line:column'. */
function randomLines(files) {
  const lines = files.flatMap((file) =>
    readFileSync(join(root, file), 'utf8')
      .split('\n')
      .flatMap((text, at) =>
        /^\s*(import|export \{|export type|type |readonly |\/\/|\/?\*|[\])}]*$)|^\s*$/.test(text) ||
        !/[<>=!&|?+*%-]|true|false|\(/.test(text)
          ? []
          : `${file}:${at + 1}:0-${at + 1}:${text.length}`,
      ),
  )
  const weight = new Map(lines.map((line) => [line, hashOf(`${seed} ${line}`)]))
  return lines.sort((a, b) => weight.get(a) - weight.get(b)).slice(0, count)
}

/** Installed packages are those of the project; its own packages are those of the copy. */
function linkPackages() {
  const from = join(root, 'node_modules')
  const to = join(copy, 'node_modules')
  const link = (target, path) => {
    mkdirSync(dirname(path), { recursive: true })
    symlinkSync(target, path)
  }
  for (const name of readdirSync(from))
    if (!name.startsWith('@zinc') && name !== 'zinc-referee') link(join(from, name), join(to, name))
  link('../packages/core', join(to, 'zinc-referee'))
  for (const [name, folder] of [
    ['venue', 'packages/venue'],
    ['circuit', 'packages/circuit'],
    ['cli', 'packages/cli'],
    ['examples', 'examples'],
    ['bench', 'bench'],
  ])
    link(join('../..', folder), join(to, '@zinc-referee', name))
}
