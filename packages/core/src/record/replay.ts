import type { Engine, Inbox, Ruling } from '../match/index.ts'
import type { CheckLine, InputLine } from './format.ts'
import type { RecordContent } from './read-record.ts'

/** How a replay went. */
export interface Replayed {
  readonly inputs: number
  readonly checks: number
  /** Match time reached, ms. */
  readonly at: number
  /** The first line of which the replay made something else. */
  readonly differs?: { readonly line: number; readonly recorded: string; readonly replayed: string }
}

/** Feeds the lines of a record to a match that has just begun, up to a match time (ms) if one is given. */
export function replayInto(
  engine: Engine,
  inbox: Inbox,
  { lines }: Pick<RecordContent, 'lines'>,
  until: number = Number.POSITIVE_INFINITY,
): Replayed {
  let inputs = 0
  let checks = 0
  for (const { number, line } of lines) {
    if (line.t > until) break
    if (line.t > engine.time.now) inbox.advanceTo(line.t)
    const differs = (recorded: string, replayed: string): Replayed => ({
      inputs,
      checks,
      at: engine.time.now,
      differs: { line: number, recorded, replayed },
    })
    if (isCheck(line)) {
      checks++
      const hash = engine.hash()
      if (hash !== line.check) return differs(`hash ${line.check}`, `hash ${hash}`)
    } else {
      inputs++
      const recorded = line.no ?? null
      const replayed = again(inbox, line)
      if (replayed !== recorded && JSON.stringify(replayed) !== JSON.stringify(recorded))
        return differs(`ruling ${JSON.stringify(recorded)}`, `ruling ${JSON.stringify(replayed)}`)
    }
  }
  if (until !== Number.POSITIVE_INFINITY && until > engine.time.now) inbox.advanceTo(until)
  return { inputs, checks, at: engine.time.now }
}

const isCheck = (line: InputLine | CheckLine): line is CheckLine => 'check' in line
const codeOf = (ruling: Ruling): string | null => (ruling.ok ? null : ruling.code)

/** Hands an input over once more; what was refused, in the form in which a record holds it. */
export function again(inbox: Inbox, line: InputLine): unknown {
  inbox.cleaned = line.no !== 'bad-input'
  if (line.submit !== undefined)
    return codeOf(inbox.submit(line.seat ?? '', line.submit, line.input, line.how))
  if (line.report !== undefined) return codeOf(inbox.report(line.report, line.input, line.how))
  if (line.direct !== undefined) return codeOf(inbox.direct(line.direct, line.input, line.referee))
  const rulings = inbox.reportAll(line.reportAll ?? '', line.input as readonly unknown[], line.how)
  return rulings.every(({ ok }) => ok) ? null : rulings.map(codeOf)
}
