import { RefereeError } from '../kit/index.ts'
import { type InputLine, type NumberedLine, readRecord, replayInto } from '../record/index.ts'
import type { AnyRulebook } from './define-rulebook.ts'
import { seedFrom, start } from './start-match.ts'

/** Inputs that bring a player's name and id into a match. */
const COMING: ReadonlySet<string> = new Set(['roster.join', 'roster.watch'])

/**
 * Returns a record without a player's name and id, for whoever asks to be forgotten. It replays to the same rulings; its
 * hashes are computed again, since names are part of the state. The id of the player's seat stays: other lines name it.
 * @throws ZR_RECORD_FOREIGN, ZR_RECORD_UNREADABLE, ZR_RECORD_NO_PLAYER if it does not name the player, ZR_RECORD_NOT_ERASED
 *   if it holds a snapshot, or would give other rulings
 */
export function erasePlayer(book: AnyRulebook, record: string, player: string): string {
  const { header, lines, begins } = readRecord(record)
  const not = (why: string): RefereeError => new RefereeError('ZR_RECORD_NOT_ERASED', { why })
  if (begins !== 1 || header.from !== undefined)
    throw not('it went on from a snapshot, which holds the names of all players')
  if (!lines.some(({ line }) => brings(line, player))) throw new RefereeError('ZR_RECORD_NO_PLAYER', {})
  const nobody = `erased-${1 + new Set(record.match(/"erased-\d+"/g)).size}`
  const { engine, inbox } = start(book, {
    seed: seedFrom(header.seed),
    inForce: header.settings,
    with: header.with ?? [],
  })
  const rewritten = lines.map(({ number, line }) => {
    if ('check' in line) {
      if (line.t > engine.time.now) inbox.advanceTo(line.t)
      return { ...line, check: engine.hash() }
    }
    const without = withoutPlayer(line, player, nobody)
    const { differs } = replayInto(engine, inbox, { lines: [{ number, line: without }] })
    if (differs !== undefined) throw not(`line ${number} would give ${differs.replayed}`)
    return without
  })
  const [first] = record.split('\n')
  return `${first}\n${rewritten.map((line) => `${JSON.stringify(line)}\n`).join('')}`
}

/** True if a player comes in by this line. Whoever gave no id has that of the seat. */
const brings = (line: NumberedLine['line'], player: string): line is InputLine => {
  if (!('direct' in line) || !COMING.has(line.direct ?? '')) return false
  const { player: given, seat } = Object(line.input)
  return given === player || (!given && seat === player)
}

/** A seat's id may be the same word as its player's, and stays. */
const IDS: ReadonlySet<string> = new Set(['player', 'referee'])

function withoutPlayer(line: NumberedLine['line'], player: string, nobody: string): NumberedLine['line'] {
  const isComing = brings(line, player)
  const text = JSON.stringify(line, (member, value) => {
    if (IDS.has(member) && value === player) return nobody
    return isComing && member === 'name' ? nobody : value
  })
  return JSON.parse(text)
}
