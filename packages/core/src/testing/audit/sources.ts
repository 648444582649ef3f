import { chanceFrom } from '../../chance/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { Fault, Ruling } from '../../match/index.ts'
import { readRecord } from '../../record/index.ts'
import {
  type AnyMatch,
  type AnyRulebook,
  beginAnyMatch,
  replayLine,
  replayRecord,
} from '../../rulebook/index.ts'
import type { Seat } from '../../state/index.ts'
import { type Crowd, playToEnd } from '../crowd.ts'
import type { AuditAsked, AuditedRecord } from './asked.ts'

/** An input, or time that passes, to be done to copies of the match. */
export interface Deed {
  readonly at: number
  readonly kind: 'action' | 'fact' | 'directive' | 'other'
  readonly name: string
  readonly seat: string | undefined
  readonly input: unknown
  /** Its ruling. */
  does(match: AnyMatch): unknown
}
/** A match that can be played again and again in the same way. */
export interface Source {
  begin(onFault?: (fault: Fault) => void): AnyMatch
  /** Plays it from its beginning on; `hear` gets each deed before it is done. */
  play(match: AnyMatch, hear: (deed: Deed) => void): void
}

const USUAL_LENGTH = 15 * 60_000

/** A match of these seats, from its first ms of live play, as a crowd plays it. */
export const played = (book: AnyRulebook, asked: AuditAsked): Source => ({
  begin: (onFault) => beginPlay(book, asked, onFault),
  play: (match, hear) => void playToEnd(heard(match, hear), restless(asked), asked.until ?? USUAL_LENGTH),
})

/** Once in how many beats somebody comes or goes, and from which share of the match on somebody leaves for good. */
const SELDOM = 40
const LATE = 0.6

/** A crowd of which now and then somebody is away and comes back, leaves, or is sent off. */
function restless({ crowd, seed = 'fair-1', until = USUAL_LENGTH }: AuditAsked): Crowd {
  const players = crowd()
  const chance = chanceFrom(seed, 'comings and goings')
  const away = new Set<Seat>()
  return {
    every: players.every,
    beat(match, drives) {
      players.beat(match, (seat) => drives(seat) && !away.has(seat))
      if (chance.int(1, SELDOM) > 1) return
      const [back] = away
      const seat = chance.pick(match.allSeats) ?? ''
      if (back !== undefined) {
        away.delete(back)
        match.direct('roster.join', { seat: back, name: back })
      } else if (match.now > LATE * until && match.allSeats.length > 3) {
        const goes = chance.int(0, 1) === 0
        if (goes) match.submit(seat, 'roster.leave', {})
        else match.direct('roster.kick', { seat })
      } else if (match.allSeats.length > 2) {
        away.add(seat)
        match.direct('roster.absent', { seat })
      }
    },
  }
}

/**
 * A match as it was recorded.
 * @throws what `replayRecord` throws for a record that is none, or of another rulebook
 */
export function recorded(book: AnyRulebook, record: AuditedRecord['record']): Source {
  const content = typeof record === 'string' ? readRecord(record) : record
  return {
    begin: (onFault) => replayRecord(book, { ...content, lines: [] }, { ...(onFault && { onFault }) }).match,
    play(match, hear) {
      const does = (deed: Deed): void => {
        hear(deed)
        deed.does(match)
      }
      for (const { line } of content.lines) {
        while (match.nextDue !== undefined && match.nextDue <= line.t) does(timePasses(match, match.nextDue))
        if (match.now < line.t) does(timePasses(match, line.t))
        if (!('input' in line)) continue
        const name = line.submit ?? line.report ?? line.reportAll ?? line.direct ?? ''
        const kind = line.submit ? 'action' : line.report ? 'fact' : line.direct ? 'directive' : 'other'
        const { seat, input } = line
        does({ at: match.now, kind, name, seat, input, does: (each) => replayLine(each, line) })
      }
    },
  }
}

function beginPlay(
  book: AnyRulebook,
  { seats, seed = 'fair-1', with: taken = [], settings = {} }: AuditAsked,
  onFault?: (fault: Fault) => void,
): AnyMatch {
  const match = beginAnyMatch(book, { seed, with: taken, settings, ...(onFault && { onFault }) })
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  for (const seat of seats) match.submit(seat, 'roster.ready', {})
  if (match.nextDue !== undefined) match.advanceTo(match.nextDue)
  if (Object(match.state['phases']).now.phase !== 'live')
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `The match to audit did not begin with ${seats.length} seats`,
      fix: 'Name as many as the rulebook needs, each once',
    })
  return match
}

const timePasses = (match: AnyMatch, ms: number): Deed => ({
  at: match.now,
  kind: 'other',
  name: 'time',
  seat: undefined,
  input: undefined,
  does(each) {
    each.advanceTo(ms)
    return { ok: true }
  },
})

/** The match, and somebody who hears of each input before it is taken. */
function heard(match: AnyMatch, hear: (deed: Deed) => void): AnyMatch {
  const told = (deed: Deed): unknown => {
    hear(deed)
    return deed.does(match)
  }
  const instead: { readonly [name: string]: unknown } = {
    submit: (seat: Seat, name: string, input: object): unknown =>
      told({
        at: match.now,
        kind: 'action',
        name,
        seat,
        input,
        does: (each): Ruling => each.submit(seat, name, input),
      }),
    direct: (name: string, input: object): unknown =>
      told({
        at: match.now,
        kind: 'directive',
        name,
        seat: undefined,
        input,
        does: (each): Ruling => each.direct(name, input),
      }),
    advanceTo: (ms: number): unknown => told(timePasses(match, ms)),
    report: (name: string, input: object): unknown =>
      told({
        at: match.now,
        kind: 'fact',
        name,
        seat: undefined,
        input,
        does: (each): Ruling => each.report(name, input),
      }),
  }
  return new Proxy(match, {
    get(target, key) {
      const own = typeof key === 'string' ? instead[key] : undefined
      const value: unknown = own ?? Reflect.get(target, key, target)
      return own === undefined && typeof value === 'function' ? value.bind(target) : value
    },
  })
}
