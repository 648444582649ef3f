import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { performance } from 'node:perf_hooks'
import { setImmediate as nextTick } from 'node:timers/promises'
import { fileURLToPath } from 'node:url'
import { openRecordFile } from '../../packages/venue/dist/records/record-file.js'
import { happen, regatta } from './fleet.js'
import { quantiles, type Row, row } from './measure.js'

const MATCHES = 20
const TICKS = 60
const PER_TICK = 400

const fail = (error: unknown): void => {
  throw error
}

/** How many inputs a second a host carries out, tick after tick, with records that are safe on disk before the end. */
async function throughput(folder: string | undefined, round: number): Promise<number> {
  const files = Array.from({ length: MATCHES }, (_, n) =>
    folder === undefined
      ? undefined
      : openRecordFile(join(folder, `r${round}-${n}.jsonl`), { commit: 'group', stuck: fail }),
  )
  const matches = files.map((file, n) => regatta(n, file && ((line) => file.write(line))))
  const began = performance.now()
  for (let tick = 0; tick < TICKS; tick++) {
    for (let n = 0; n < PER_TICK; n++) {
      const match = matches[n % MATCHES]
      if (match === undefined) continue
      match.advanceTo(match.now + 10)
      happen(match, tick * PER_TICK + n)
      match.flush()
    }
    await nextTick()
  }
  await Promise.all(files.map((file) => file?.close()))
  return (TICKS * PER_TICK) / (performance.now() - began)
}

export async function recordRow(): Promise<Row> {
  const folder = mkdtempSync(join(tmpdir(), 'zinc-bench-'))
  const ratios: number[] = []
  for (let round = 0; round < 11; round++) {
    const [first, second] = round % 2 === 0 ? [folder, undefined] : [undefined, folder]
    const [a, b] = [await throughput(first, round), await throughput(second, round)]
    if (round > 1) ratios.push(first === undefined ? b / a : a / b)
  }
  rmSync(folder, { recursive: true })
  const at = quantiles(ratios)
  return row('record/none', at(0.5), '×', { least: 0.3 }, [at(0.25), at(0.75)])
}

/** In a process of its own, which can collect garbage before it measures: a match of the hit rule, and a whole regatta. */
export function heapRows(): Row[] {
  const script = fileURLToPath(new URL('heap.js', import.meta.url))
  const printed = execFileSync(process.execPath, ['--expose-gc', script], { encoding: 'utf8' })
  const { hit, regatta: whole } = JSON.parse(printed) as { readonly hit: number; readonly regatta: number }
  return [
    row('heap/match', hit / 1024, 'KiB', { most: 16 }),
    row('heap/regatta', whole / 1024, 'KiB', { most: 120 }),
  ]
}
