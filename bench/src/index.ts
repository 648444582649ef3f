import { execFileSync } from 'node:child_process'
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { applyRow } from './apply.js'
import { explainRows } from './explaining.js'
import { fleetRows } from './fleet.js'
import { flushRows } from './flush.js'
import type { Row } from './measure.js'
import { machine, tableOf, writePage } from './page.js'
import { pondRows } from './pond.js'
import { heapRows, recordRow } from './records.js'
import { regattaRows } from './regatta.js'
import { removingRow } from './removing.js'
import { reportRow } from './report.js'
import { submitRow } from './submit.js'
import { tableRows } from './tables.js'
import { timeAndChanceRows } from './time-and-chance.js'

const usage = `npm run bench                     every row, against its goal
npm run bench -- flush heap       rows whose name holds one of these words
npm run bench -- --json FILE      the rows as JSON too
npm run bench -- --page           the table into docs/benchmarks.md too`

const args = process.argv.slice(2)
const after = (flag: string): string | undefined =>
  args.includes(flag) ? args[args.indexOf(flag) + 1] : undefined
const file = after('--json')
if (args.includes('--help')) {
  console.log(usage)
  process.exit(0)
}
if (args.includes('--json') && (file === undefined || file.startsWith('--'))) {
  console.error(`--json takes a file.\n\n${usage}`)
  process.exit(2)
}
const words = args.filter((arg) => !arg.startsWith('--') && arg !== file)

const groups: readonly (readonly [names: string, rows: () => Row[] | Promise<Row[]>])[] = [
  ['apply/bare', () => [applyRow()]],
  ['report/bare', () => [reportRow()]],
  ['submit/hand', () => [submitRow()]],
  [
    'flush16/floor flush64/floor flush500/floor hand64/flush64 naive64/flush64 bytes64/minimal flush10000/flush100',
    flushRows,
  ],
  ['timers/10k draw compile/20', timeAndChanceRows],
  ['heap/match', heapRows],
  ['live/replay explain/replay explain/10k', explainRows],
  ['record/none', async () => [await recordRow()]],
  ['idle/10k load/10k', fleetRows],
  ['pond/tick pondcopies/pond pond100/pond10 pond1000/pond10', pondRows],
  ['remove20k/last', () => [removingRow()]],
  ['regatta/bare regatta/fact', regattaRows],
  ['market/turns options/1000 deal/bare stones/bare stones/10000', tableRows],
]
// Each group in a process of its own: what one has made of the compiled code must not weigh on another.
const group = after('--group')
if (group !== undefined) {
  const measure = groups[Number(group)]?.[1]
  console.log(JSON.stringify(await measure?.()))
  process.exit(0)
}
const measured = (at: number): Row[] =>
  JSON.parse(
    execFileSync(process.execPath, [fileURLToPath(import.meta.url), '--group', String(at)], {
      encoding: 'utf8',
    }),
  )
const rows = groups.flatMap(([names], at) =>
  words.length === 0 || words.some((word) => names.includes(word)) ? measured(at) : [],
)

const result = rows.map(({ name, value, unit, goal, met }) => ({ name, value, unit, goal, met }))
if (file !== undefined) writeFileSync(file, `${JSON.stringify(result, null, 2)}\n`)
const table = tableOf(rows)
if (args.includes('--page')) {
  writePage(table)
}
console.log(`${machine()}\n\n${table}`)
process.exit(rows.every(({ met }) => met) ? 0 : 1)
