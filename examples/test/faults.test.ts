import { modes, reedRegatta } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, readRecord } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'
import { seedKey } from '../../packages/core/src/chance/index.ts'
import { Engine } from '../../packages/core/src/engine/index.ts'
import { Inbox } from '../../packages/core/src/inputs/index.ts'
import { type InputLine, replayInto } from '../../packages/core/src/record/index.ts'
import { UndoLog } from '../../packages/core/src/rows/undo.ts'
import { Viewing } from '../../packages/core/src/views/index.ts'

/** Makes the n-th write of a step throw, as a handler would that fails there; returns how often a write came. */
function failAt(n: number, run: () => void): number {
  const note = UndoLog.prototype.note
  let writes = 0
  UndoLog.prototype.note = function (...entry) {
    if (writes++ === n) throw new Error(`fails at write ${n}`)
    note.apply(this, entry)
  }
  try {
    run()
  } finally {
    UndoLog.prototype.note = note
  }
  return writes
}

test('a handler that throws at each write of each input of the demo record leaves an equal state and an empty next flush', () => {
  const { demo } = modes['reed-regatta'] ?? {}
  if (demo?.crowd === undefined || demo.seats === undefined) throw new Error('the regatta has no demo')
  const lines: string[] = []
  const recorded = beginAnyMatch(reedRegatta, { seed: 'fair-1', record: (line) => lines.push(line) })
  for (const { id, name } of demo.seats) recorded.direct('roster.join', { seat: id, name, bot: true })
  playToEnd(recorded, demo.crowd('fair-1'), 120_000)
  const content = readRecord(lines.join('\n'))

  const engine = new Engine(reedRegatta.plan, seedKey('fair-1'), {})
  const inbox = new Inbox(engine)
  const viewing = new Viewing(engine, inbox)
  for (const viewer of ['spectator-1', 'spectator-2']) viewing.open(viewer)
  const again = (line: InputLine): void => void replayInto(engine, inbox, { lines: [{ number: 0, line }] })
  let failures = 0
  for (const { line } of content.lines) {
    if (!('input' in line)) continue
    inbox.advanceTo(line.t)
    viewing.flush()
    const before = engine.hash()
    for (let n = 0; ; n++) {
      const writes = failAt(n, () => {
        inbox.advanceTo(line.t)
        again({ ...line, how: { ...line.how } })
      })
      if (writes <= n) break // it went through whole
      failures++
      engine.faultRuns = undefined // so many in a row would void the bout
      if (engine.hash() !== before || viewing.flush().length > 0)
        expect.fail(`write ${n} of ${JSON.stringify(line)} was not taken back`)
    }
    viewing.flush()
  }
  expect(failures).toBeGreaterThan(2000)
  inbox.advanceTo(recorded.now)
  expect(engine.hash()).toBe(recorded.hash())
})
