import { RefereeError } from '../../kit/index.ts'
import type { Ruling } from '../../match/index.ts'
import type { Snapshot } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, beginAnyMatch } from '../../rulebook/index.ts'
import type { Seat } from '../../state/index.ts'
import { playOut } from '../crowd.ts'
import type { AuditAsked, SightLeak } from './asked.ts'
import { ReturningIds } from './returning-ids.ts'

/** An input, or time that passes, to be done to copies of the match. */
export interface Deed {
  readonly at: number
  readonly name: string
  readonly seat: string | undefined
  does(match: AnyMatch): Ruling
}
export interface Moment {
  readonly snapshot: Snapshot
  readonly deed: Deed
}

export function beginPlay(
  book: AnyRulebook,
  { seats, seed = 'fair-1', with: taken = [], settings = {} }: AuditAsked,
): AnyMatch {
  const match = beginAnyMatch(book, { seed, with: taken, settings })
  for (const seat of seats) match.direct('roster.join', { seat, name: seat })
  for (const seat of seats) match.submit(seat, 'roster.ready', {})
  if (match.nextDue !== undefined) match.advanceTo(match.nextDue)
  if (Object(match.state['phases']).now.phase !== 'live')
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `The match to audit did not begin with ${seats.length} seats`,
      mend: 'Name as many as the rulebook needs, each once',
    })
  return match
}

/** Plays twice: once to learn how many inputs there are, and once to keep some of them, with the match before each. */
export function momentsOf(
  book: AnyRulebook,
  asked: AuditAsked,
): { readonly usual: readonly Moment[]; readonly returning: readonly SightLeak[] } {
  const { until = 15 * 60_000, checks = 24 } = asked
  let deeds = 0
  playOut(
    heard(beginPlay(book, asked), () => (deeds += 1)),
    asked.crowd(),
    until,
  )
  const every = Math.max(1, Math.floor(deeds / checks))
  const usual: Moment[] = []
  const match = beginPlay(book, asked)
  const ids = new ReturningIds(asked.seats, match)
  let nth = 0
  const watched = heard(match, (deed) => {
    if (nth % every === 0) usual.push({ snapshot: match.snapshot(), deed })
    nth += 1
    if (deed.seat !== undefined || deed.name === 'time') ids.look(match)
  })
  playOut(watched, asked.crowd(), until)
  return { usual, returning: ids.leaks }
}

/** The match, and somebody who hears of each input before it is taken. */
function heard(match: AnyMatch, hear: (deed: Deed) => void): AnyMatch {
  const told = (deed: Deed): Ruling => {
    hear(deed)
    return deed.does(match)
  }
  const instead: { readonly [name: string]: unknown } = {
    submit: (seat: Seat, name: string, input: object) =>
      told({ at: match.now, name, seat, does: (each) => each.submit(seat, name, input) }),
    advanceTo: (ms: number) =>
      told({
        at: match.now,
        name: 'time',
        seat: undefined,
        does(each) {
          each.advanceTo(ms)
          return { ok: true }
        },
      }),
    report: (name: string, input: object) =>
      told({ at: match.now, name, seat: undefined, does: (each) => each.report(name, input) }),
  }
  return new Proxy(match, {
    get(target, key) {
      const own = typeof key === 'string' ? instead[key] : undefined
      const value: unknown = own ?? Reflect.get(target, key, target)
      return own === undefined && typeof value === 'function' ? value.bind(target) : value
    },
  })
}
