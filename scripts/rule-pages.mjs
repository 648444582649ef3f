// Writes what comes below the line of each page in docs/guide/rules: settings, views, inputs, events, drafts, calls
// and codes, from the rules themselves. With --check it writes nothing and fails where a page is not current.
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { beginMatch, choice, defineRulebook, int } from 'zinc-referee'
import * as built from 'zinc-referee/rules'
import { fields, word } from 'zinc-referee/settings'
import { z } from 'zod'
import { refusalTexts as engineTexts } from '../packages/core/dist/rule/index.js'

const LINE = '<!-- What follows is written by scripts/rule-pages.mjs. -->'
const at = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url))
const pages = at('docs/guide/rules/')
const sources = at('packages/core/src/rules/')

let stale = 0
let blank = 0

/** The rule of each page, as an example of it where it is made with options. */
const rules = {
  roster: built.roster,
  phases: built.phases,
  rounds: built.rounds,
  teams: built.teams,
  roles: built.rolesOf({ brewer: {}, spoiler: { count: 1 } }),
  vitals: built.vitals,
  credit: built.credit,
  respawn: built.respawn,
  scores: built.scores,
  verdict: built.verdict({ when: [] }),
  holds: built.holds({ things: ['bell'] }),
  zones: built.zones({ names: ['mill'] }),
  boosts: built.boostsOf({ bell: { lasts: 1000 } }),
  areas: built.areasOf(),
  errands: built.errands,
  idle: built.idle,
  turns: built.turns({ steps: [built.turnStep('act')] }),
  reactions: built.reactions,
  piles: built.pilesOf('piles', choice('amber'), { deck: 'deck' }),
  sealed: built.sealedOf('sealed', int()),
  ballot: built.ballotOf('ballot'),
  sheet: built.sheetOf({ throws: {} }),
  signals: built.signalsOf({ hello: {} }),
  notebook: built.notebookOf(fields({ says: word })),
  grid: built.gridOf('board', { width: 3, height: 3 }),
}

const texts = Object.assign(
  { ...engineTexts },
  ...Object.values(rules).map((rule) => rule.definition.refusals ?? {}),
)

function complain(text) {
  blank++
  console.error(text)
}

function referenceOf(page, rule) {
  const source = sourceOf(page)
  const definition = rule.definition
  const { described, plan } = describe(rule)
  const cases = existsSync(at(`docs/semantics/${page}.md`))
    ? `What happens in each case is in [its semantics](../../semantics/${page}.md).`
    : ''
  return [
    cases,
    settingsTable(definition.settings, source, plan.fixed),
    whenChanged(definition, source, plan.fixed),
    viewTable(described.state),
    list('Actions', described.actions.map(inputLine(source, 'actions'))),
    list('Facts', described.facts.map(inputLine(source, 'facts'))),
    list('Directives', described.directives.map(inputLine(source, 'directives'))),
    list('Events', Object.entries(described.events).map(eventLine(source))),
    list(
      'Drafts',
      Object.entries(described.drafts).map(
        ([name, { cells }]) => `\`${name}\` (${cellNames(cells)})${doc(source, name, 'drafts')}`,
      ),
    ),
    list(
      'Calls',
      Object.keys(definition.calls ?? {}).map((name) => `\`${name}\`${doc(source, name, 'calls')}`),
    ),
    codes(source, definition.refusals),
  ]
    .filter(Boolean)
    .join('\n\n')
}

function describe(rule) {
  const needed = [...(rule.definition.needs ?? []), ...(rule.definition.knows ?? [])]
  for (const each of needed) for (const more of each.definition.needs ?? []) needed.push(more)
  // What a rule needs and takes options stands for itself as its own page has it.
  const withOptions = (rule.definition.needs ?? []).map(({ name }) => rules[name]).filter(Boolean)
  const others = [...new Map([...needed, ...withOptions].map((each) => [each.name, each])).values()]
  const book = defineRulebook({
    name: 'page',
    seats: { min: 1, max: 2 },
    rules: [...others.filter((each) => withOptions.includes(each) || given(each)), rule],
  })
  const isIt = ({ name }) => name === rule.name
  const described = beginMatch(book, { seed: 'page' }).describe().rules.find(isIt)
  return { described, plan: book.plan.rules.find(isIt) }
}
/** Rules that want options are known to others only by their handle; they are not needed here. */
function given({ name, definition }) {
  return definition.takes === undefined && name !== 'roles'
}
/** All files of a rule as one text. */
function sourceOf(page) {
  const names = readdirSync(sources)
  const folder = names.find((name) => name === page && statSync(sources + name).isDirectory())
  const files =
    folder === undefined ? [`${page}.ts`] : readdirSync(sources + folder).map((name) => `${folder}/${name}`)
  return files.map((name) => readFileSync(sources + name, 'utf8')).join('\n')
}

/** The docstring before a name in a section of the source, as the end of a line. */
function doc(source, name, section) {
  const short = name.replace(/^.*\./, '')
  const from = source.indexOf(`${section}: `)
  const found = new RegExp(`/\\*\\*((?:[^*]|\\*(?!/))+?)\\*/\\s*\\n\\s*['"]?${short}['"]?\\b`).exec(
    from === -1 ? '' : source.slice(from),
  )
  return found === null
    ? ''
    : `: ${found[1]
        .replaceAll(/\s*\n\s*\*?\s*/g, ' ')
        .trim()
        .replace(/\.$/, '')}`
}

/** What a rule says of its settings: they come before its state. */
function settingsOf(source) {
  const from = source.search(/settings(:| =) fields\(/)
  return source.slice(from, source.indexOf('state: {', from)).replace('settings =', 'settings:')
}

function settingsTable(settings, source, fixed) {
  if (settings === undefined) return ''
  const { properties = {} } = z.toJSONSchema(settings, { io: 'input', unrepresentable: 'any' })
  // What a match has that is given nothing, with the defaults inside of objects.
  const { data = {} } = settings.safeParse({})
  const rows = Object.entries(properties).map(([name, schema]) => {
    const what = doc(settingsOf(source), name, 'settings').replace(/^: /, '')
    const mark = fixed.has(name) ? ' (fixed)' : ''
    return `| \`${name}\`${mark} | ${kindOf(schema)} | ${shown(data[name] ?? schema.default)} | ${what} |`
  })
  return rows.length === 0
    ? ''
    : ['## Settings', '', '| setting | value | default | what it does |', '|---|---|---|---|', ...rows].join(
        '\n',
      )
}

/** From when a change of a setting counts. */
function whenChanged({ settings, changed }, source, fixed) {
  if (settings === undefined) return ''
  const atOnce = /\/\*\* ([^*]+?) \*\/\s*\n\s*changed\(/.exec(source)?.[1]
  if (changed !== undefined && atOnce === undefined)
    throw new Error("say in 'changed' what a change does at once")
  return [
    'While a match runs, `match.set` changes a setting. It counts from the next time that the rule reads it: what runs already, such as a timer or a countdown, keeps its due.',
    atOnce ?? '',
    fixed.size > 0 ? 'What is fixed decides who sees what, and no match can change it.' : '',
  ]
    .filter(Boolean)
    .join(' ')
}

function kindOf(schema) {
  if (schema.enum !== undefined) return schema.enum.map((value) => `\`${value}\``).join(', ')
  if (schema.anyOf !== undefined) return schema.anyOf.map(kindOf).join(' or ')
  if (schema.type === 'integer' || schema.type === 'number') {
    const { minimum, maximum, exclusiveMinimum } = schema
    const isOpen = maximum === undefined || maximum >= Number.MAX_SAFE_INTEGER
    const least = minimum ?? exclusiveMinimum
    const from =
      least === undefined || least <= Number.MIN_SAFE_INTEGER ? '' : ` ${isOpen ? 'from ' : ''}${least}`
    return `${schema.type === 'integer' ? 'whole' : 'number'}${from}${isOpen ? '' : ` to ${maximum}`}`
  }
  if (schema.propertyNames !== undefined) return `by name, each ${kindOf(schema.additionalProperties)}`
  if (schema.type === 'object') return `{ ${Object.keys(schema.properties ?? {}).join(', ')} }`
  if (schema.type === 'array') return `list of ${kindOf(schema.items ?? {})}`
  return schema.type === 'null' ? '`null`' : schema.type === 'boolean' ? 'yes or no' : (schema.type ?? 'any')
}
const shown = (value) => (value === undefined ? '' : `\`${JSON.stringify(value).replaceAll('"', "'")}\``)

function viewTable(state) {
  const rows = Object.entries(state).flatMap(([part, { kind, cells }]) =>
    Object.entries(cells)
      .filter(([, { seenBy, by }]) => seenBy !== 'nobody' || (by?.length ?? 0) > 0)
      .map(
        ([cell, how]) =>
          `| \`${part}${kind === 'single' ? '' : kind === 'perSeat' ? '[seat]' : '[id]'}.${cell}\` | ${seers(how)} |`,
      ),
  )
  return rows.length === 0 ? '' : ['## In views', '', '| cell | seen by |', '|---|---|', ...rows].join('\n')
}
const seers = ({ seenBy, by }) =>
  by?.length > 0 ? by.join(', ') : seenBy === 'some' ? 'as its row says' : seenBy
const cellNames = (cells) => Object.keys(cells).join(', ')

const inputLine =
  (source, section) =>
  ({ name, cells = {} }) =>
    `\`${name}\`${cellNames(cells) === '' ? '' : ` (${cellNames(cells)})`}${doc(source, name, section)}`

const eventLine =
  (source) =>
  ([name, { cells }]) => {
    const told = [
      ...new Set(
        Object.values(cells)
          .filter(({ seenBy }) => seenBy !== 'nobody')
          .map(seers),
      ),
    ]
    const notice = told.length === 0 ? '' : `; a notice to ${told.join(', ')}`
    return `\`${name}\`${cellNames(cells) === '' ? '' : ` (${cellNames(cells)})`}${doc(source, name, 'events')}${notice}`
  }

const list = (title, lines) =>
  lines.length === 0 ? '' : [`## ${title}`, '', ...lines.map((line) => `- ${line}`)].join('\n')

/** The codes of a rule with their texts, and a complaint for one that it refuses with and nobody explains. */
function codes(source, own = {}) {
  for (const [, code] of source.matchAll(/[^.]refuse\(\s*'([a-z-]+)'/g))
    if (!(code in texts)) complain(`no rule has a text for the code '${code}': add it to its refusals`)
  return list(
    'Refuses with',
    Object.keys(own)
      .sort()
      .map((code) => `\`${code}\`: ${own[code].replace(/\.$/, '')}`),
  )
}

/** The table of all refusals, for docs/errors.md: those of the engine, then those of each rule. */
function refusalTable() {
  const rows = new Map()
  for (const [code, text] of [
    ...Object.entries(engineTexts),
    ...Object.entries(rules).flatMap(([, rule]) => Object.entries(rule.definition.refusals ?? {})),
  ])
    rows.set(code, text)
  return [...rows].map(([code, text]) => {
    const [, meaning, fix] = /^(.*?[.!]) (.*)$/.exec(text) ?? ['', text, '']
    if (fix === '') complain(`the text of '${code}' does not say what to do`)
    return `| \`${code}\` | ${meaning} | ${fix} |`
  })
}

/** A line of a page that names something and says nothing of it. */
const BLANK = /^- `[^`]+`( \([^)]*\))?(;.*)?$|^\|.+\| +\|$/gm

const checks = process.argv.includes('--check')
for (const [page, rule] of Object.entries(rules)) {
  const file = join(pages, `${page}.md`)
  const before = readFileSync(file, 'utf8')
  const [prose = ''] = before.split(LINE)
  const after = `${prose.trimEnd()}\n\n${LINE}\n\n${referenceOf(page, rule)}\n`
  for (const [line] of after.split(LINE)[1].matchAll(BLANK)) {
    blank++
    console.error(`docs/guide/rules/${page}.md says nothing of ${line}: write a docstring in its rule`)
  }
  if (after === before) continue
  stale++
  if (checks) console.error(`docs/guide/rules/${page}.md is not current: run node scripts/rule-pages.mjs`)
  else writeFileSync(file, after)
}
const errors = at('docs/errors.md')
const page = readFileSync(errors, 'utf8')
const from = page.indexOf('\n', page.indexOf('|---|---|---|', page.indexOf('## Refusals'))) + 1
const written = `${page.slice(0, from)}${refusalTable().join('\n')}\n\n${page.slice(page.indexOf('## Protocol'))}`
if (written !== page) {
  stale++
  if (checks) console.error('docs/errors.md is not current: run node scripts/rule-pages.mjs')
  else writeFileSync(errors, written)
}
process.exit((checks && stale > 0) || blank > 0 ? 1 : 0)
