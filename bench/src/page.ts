import { readFileSync, writeFileSync } from 'node:fs'
import { cpus, totalmem } from 'node:os'
import { fileURLToPath } from 'node:url'
import type { Row } from './measure.js'

const page = fileURLToPath(new URL('../../docs/benchmarks.md', import.meta.url))
const FENCE = /```text\n[\s\S]*?```/

export function machine(): string {
  const [first] = cpus()
  const memory = Math.round(totalmem() / 2 ** 30)
  return `Node ${process.versions.node}, ${cpus().length} × ${first?.model ?? 'unknown processor'}, ${memory} GiB`
}

export function tableOf(rows: readonly Row[]): string {
  const cells = [
    ['row', 'value', 'goal', 'middle half', 'met'],
    ...rows.map(({ name, value, unit, goal, met, spread }) => [
      name,
      `${value} ${unit}`,
      goal,
      spread === undefined ? '' : `${spread[0]} to ${spread[1]}`,
      goal === '' ? '' : met ? 'yes' : 'no',
    ]),
  ]
  const widths = cells[0]?.map((_, at) => Math.max(...cells.map((line) => line[at]?.length ?? 0))) ?? []
  return cells
    .map((line) =>
      line
        .map((cell, at) => cell.padEnd(widths[at] ?? 0))
        .join('   ')
        .trimEnd(),
    )
    .join('\n')
}

/** Puts the table in its place on the page; the words around it are written by hand. */
export function writePage(table: string): void {
  const before = readFileSync(page, 'utf8')
  writeFileSync(page, before.replace(FENCE, `\`\`\`text\n${machine()}\n\n${table}\n\`\`\``))
}
