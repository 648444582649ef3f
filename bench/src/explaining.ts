import { reedRegatta } from '@zinc-referee/examples'
import { replayRecord } from 'zinc-referee'
import { explain } from 'zinc-referee/testing'
import { happen, regatta } from './fleet.js'
import { figure, type Row, ratio, timed } from './measure.js'

/** A long evening: 10,000 inputs, ten a second. */
const INPUTS = 10_000

function play(record?: (line: string) => void): void {
  const match = regatta(0, record)
  for (let n = 0; n < INPUTS; n++) {
    match.advanceTo(match.now + 100)
    happen(match, n)
  }
  match.close()
}

/** A long record: played against replayed, explained against replayed, and how long an answer takes. */
export function explainRows(): Row[] {
  const lines: string[] = []
  play((line) => lines.push(line))
  const text = lines.join('\n')
  const asked = (): number =>
    timed(() => explain(reedRegatta, text, { about: 'cell', cell: 'raft-1 sums score' }))
  const replayed = (): number =>
    timed(() => {
      const { differs } = replayRecord(reedRegatta, text)
      if (differs !== undefined) throw new Error(`line ${differs.line} differs`)
    })
  // The live match writes its record, too: both have read or written each line.
  const live = (): number => timed(() => play(() => {}))
  return [
    ratio('live/replay', { least: 0.8 }, live, replayed, 15),
    ratio('explain/replay', { most: 5 }, asked, replayed, 15),
    figure('explain/10k', 'ms', { most: 2000 }, asked, 7),
  ]
}
