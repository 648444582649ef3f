import { writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { applyRow } from './apply.js'
import { flushRow } from './flush.js'
import type { Row } from './measure.js'

const file = process.argv.includes('--json') ? process.argv[process.argv.indexOf('--json') + 1] : undefined
if (process.argv.includes('--json') && file === undefined) {
  console.error('--json takes a file: npm run bench -- --json results.json')
  process.exit(2)
}

const rows: readonly Row[] = [applyRow(), flushRow()]
if (file !== undefined)
  writeFileSync(
    file,
    `${JSON.stringify(
      rows.map(({ name, value, unit, goal, met }) => ({ name, value, unit, goal, met })),
      null,
      2,
    )}\n`,
  )

console.log(`Node ${process.versions.node}, ${cpus()[0]?.model ?? 'unknown processor'}\n`)
const line = (...cells: string[]): void =>
  console.log(
    cells
      .map((cell, at) => cell.padEnd([16, 10, 8, 16, 4][at] ?? 0))
      .join('')
      .trimEnd(),
  )
line('row', 'value', 'goal', 'middle half', 'met')
for (const { name, value, unit, goal, met, spread } of rows)
  line(name, `${value} ${unit}`, goal, `${spread[0]} to ${spread[1]}`, met ? 'yes' : 'no')
process.exit(rows.every(({ met }) => met) ? 0 : 1)
