// The folders of the core are layers: a file imports from its own folder and from those below it, types included, enters
// another folder by its index, no two files need one another, not even for a type, none has more than 300 lines, none below
// the rules knows a built-in one, and one alone makes code from text.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { fileURLToPath } from 'node:url'

/** Lowest first. */
const LAYERS = [
  'kit',
  'settings',
  'cells',
  'rows',
  'time',
  'chance',
  'rule',
  'plan',
  'sight',
  'engine',
  'tracing',
  'inputs',
  'views',
  'record',
  'rules',
  'rulebook',
  'replica',
  'host',
  'testing',
]

/** Who reads a file reads it in one go. */
const MAX_LINES = 300

const source = fileURLToPath(new URL('../packages/core/src', import.meta.url))
const files = readdirSync(source, { recursive: true })
  .map(String)
  .filter((file) => file.endsWith('.ts'))
const texts = new Map(files.map((file) => [file, readFileSync(join(source, file), 'utf8')]))
const STATEMENT = /^(?:import|export)\s[^'"]*?from\s+'(\.[^']+)'/gms
const NAMED = /^(import|export)(?:\s+type)?\s+\{([^}]*)\}\s+from\s+'(\.[^']+)'/gms

/** Names of built-in rules and of what is in them: nothing below the rules knows any. */
const BUILT_IN = /'(?:roster|phases|(?:[a-z]+)\.[a-z-]+)'/g
const ruleNames = new Set(files.flatMap((file) => /^rules\/(\w+)/.exec(file)?.[1] ?? []))
const withoutComments = (text) => text.replaceAll(/\/\*[\s\S]*?\*\/|\/\/.*$/gm, '')

const layerOf = (file) => (file.includes('/') ? file.split('/')[0] : undefined)
const targetOf = (file, path) => join(dirname(file), path)
const isIndex = (file) => file.endsWith('index.ts')
const wrong = []

for (const file of files) {
  const own = layerOf(file)
  const lines = texts.get(file).split('\n').length - 1
  if (lines > MAX_LINES) wrong.push(`${file} has ${lines} lines: divide what it does, ${MAX_LINES} at most`)
  if (own !== undefined && LAYERS.indexOf(own) < LAYERS.indexOf('rules'))
    for (const [named] of withoutComments(texts.get(file)).matchAll(BUILT_IN))
      if (ruleNames.has(named.slice(1, -1).split('.')[0]))
        wrong.push(`${file} names the built-in rule ${named}`)
  if (file !== 'kit/generate.ts' && withoutComments(texts.get(file)).includes('new Function('))
    wrong.push(`${file} makes code from text: kit/generate.ts does that for all`)
  if (own !== undefined && !LAYERS.includes(own))
    wrong.push(`${file}: ${own}/ is no layer of scripts/check-layers.mjs`)
  for (const [, path] of texts.get(file).matchAll(STATEMENT)) {
    const target = targetOf(file, path)
    const other = layerOf(target)
    if (!texts.has(target)) wrong.push(`${file} imports ${path}, which is not there`)
    else if (own === undefined || other === own) continue
    else if (other === undefined) wrong.push(`${file} imports ${target}, an entry of the package`)
    else if (LAYERS.indexOf(other) > LAYERS.indexOf(own)) wrong.push(`${file} imports upwards from ${target}`)
    else if (target !== `${other}/index.ts`)
      wrong.push(`${file} enters ${other}/ by ${target}, not by its index`)
  }
}

/** The file that a name comes from, through indexes. */
function originOf(file, name) {
  for (const [, kind, names, path] of texts.get(file)?.matchAll(NAMED) ?? [])
    for (const each of kind === 'export' ? names.split(',') : []) {
      const [inner = '', outer = inner] = each
        .trim()
        .replace(/^type /, '')
        .split(' as ')
      if (outer === name) return originOf(targetOf(file, path), inner)
    }
  return file
}

const needs = new Map(
  files
    .filter((file) => !isIndex(file))
    .map((file) => [
      file,
      new Set(
        [...texts.get(file).matchAll(NAMED)].flatMap(([, , names, path]) =>
          names
            .split(',')
            .map(
              (each) =>
                each
                  .trim()
                  .replace(/^type /, '')
                  .split(' as ')[0] ?? '',
            )
            .filter((name) => name !== '')
            .map((name) => originOf(targetOf(file, path), name)),
        ),
      ),
    ]),
)

/** The parts of a rule in the order in which every rule has them. */
const PARTS = [
  ...['name', 'needs', 'knows', 'config', 'settings', 'refusals', 'discloses', 'varies', 'variations'],
  ...[
    'state',
    'events',
    'notices',
    'drafts',
    'groups',
    'sides',
    'inSight',
    'gates',
    'setUp',
    'onVoid',
    'apply',
  ],
  ...['actions', 'facts', 'directives', 'timers', 'amend', 'on', 'changed', 'settle', 'calls'],
]
for (const file of files.filter((each) => each.startsWith('rules/')))
  for (const [, indent, body] of texts
    .get(file)
    .matchAll(/^( *).*(?:\.does|declareRule|defineRule)\(\{\n([\s\S]*?)\n\1\}/gm)) {
    const parts = [...body.matchAll(new RegExp(`^${indent}  (\\w+)\\b`, 'gm'))].map(([, part]) => part)
    const places = parts.map((part) => PARTS.indexOf(part))
    if (places.some((place, at) => place < (places[at - 1] ?? 0)))
      wrong.push(`${file}: the parts of a rule come in the order ${PARTS.join(', ')}`)
  }

/** Circles of files: each is named once, by the way round. */
const done = new Set()
function walk(file, way) {
  const at = way.indexOf(file)
  if (at >= 0) {
    wrong.push(`a circle: ${[...way.slice(at), file].join(' → ')}`)
    return
  }
  if (done.has(file)) return
  for (const next of needs.get(file) ?? []) walk(next, [...way, file])
  done.add(file)
}
for (const file of needs.keys()) walk(file, [])

for (const each of wrong) console.log(each)
console.log(
  `${files.length} files in ${LAYERS.length} layers of ${relative(process.cwd(), source)}, ${wrong.length} things to change`,
)
process.exitCode = wrong.length === 0 ? 0 : 1
