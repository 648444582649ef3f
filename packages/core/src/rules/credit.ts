import { z } from 'zod'
import { declareRule, type MatchOf } from '../match/index.ts'
import { everyone, int, list, maybe, perSeat, type Seat, seatRef, table, text } from '../state/index.ts'
import { seconds } from '../time/index.ts'
import { roster } from './roster.ts'
import { scores } from './scores.ts'
import { largestRemainder } from './shares.ts'
import { teams } from './teams.ts'
import { vitals } from './vitals/vitals.ts'

const shape = declareRule({
  name: 'credit',
  needs: [vitals, scores, roster],
  knows: [teams],
  settings: z.object({
    /** How long (ms of play time) a blow counts for shares and assists. */
    assistWindow: z.int().min(0).default(seconds(10)),
    /** How long a blow counts when the surroundings finish its target. */
    pushWindow: z.int().min(0).default(seconds(5)),
    /** The least share, in per cent, that is an assist. */
    assistAt: z.int().min(0).max(100).default(1),
    points: z
      .object({
        kill: z.int().default(1),
        assist: z.int().default(0),
        self: z.int().default(0),
        /** For bringing a team-mate down. */
        team: z.int().default(0),
      })
      .prefault({}),
  }),
  state: {
    tally: perSeat({
      kills: int(0).seenBy(everyone),
      assists: int(0).seenBy(everyone),
      downs: int(0).seenBy(everyone),
      streak: int(0).seenBy(everyone),
    }),
    /** What each foe did to a target in its present life. */
    marks: table({ target: seatRef(), by: seatRef(), amount: int(), at: int() })
      .indexedBy('target')
      .each('round'),
  },
  events: {
    /** `shares` are the parts, in per cent, of the foes in `sharers`. */
    given: {
      seat: seatRef().seenBy(everyone),
      killer: maybe(seatRef()).seenBy(everyone),
      kind: text().seenBy(everyone),
      assists: list(seatRef()).seenBy(everyone),
      sharers: list(seatRef()),
      shares: list(int()),
    },
  },
})
type Match = MatchOf<typeof shape>

interface Damage {
  readonly by: Seat
  readonly amount: number
}

/** What each foe took from the target within the half-open window, by the order of their first marks. */
function damageOf(match: Match, target: Seat): Damage[] {
  const sums = new Map<Seat, Damage>()
  for (const { by, amount, at } of match.own.marks.where({ target })) {
    if (match.time.play - at >= match.settings.assistWindow) continue
    sums.set(by, { by, amount: (sums.get(by)?.amount ?? 0) + amount })
  }
  return [...sums.values()]
}

const isFoe = (match: Match, a: Seat, b: Seat): boolean => match.use(teams)?.foes(a, b) ?? true

function killerOf(
  match: Match,
  seat: Seat,
  by: Seat | undefined,
): { readonly killer: Seat | undefined; readonly kind: string } {
  if (by === seat) return { killer: undefined, kind: 'self' }
  if (by !== undefined) return { killer: by, kind: isFoe(match, seat, by) ? 'kill' : 'team' }
  const pusher = match.own.marks
    .where({ target: seat })
    .findLast(({ at }) => match.time.play - at < match.settings.pushWindow)
  return pusher === undefined
    ? { killer: undefined, kind: 'surroundings' }
    : { killer: pusher.by, kind: 'pushed' }
}

function assistsOf(
  match: Match,
  killer: Seat | undefined,
  damage: readonly Damage[],
  shares: readonly number[],
): Seat[] {
  return damage
    .map((each, at) => ({ ...each, share: shares[at] ?? 0 }))
    .filter(({ by, share }) => by !== killer && share > 0 && share >= match.settings.assistAt)
    .sort((a, b) => b.share - a.share) // level shares stay in the order of their first marks
    .map(({ by }) => by)
}

function score(match: Match, seat: Seat, amount: number, reason: string) {
  match.use(scores).give({ seat, amount, reason })
}

function giveCredit(match: Match, seat: Seat, by: Seat | undefined, together: readonly Seat[]) {
  const { points } = match.settings
  const { killer, kind } = killerOf(match, seat, by)
  const damage = damageOf(match, seat)
  const shares = largestRemainder(
    damage.map(({ amount }) => amount),
    100,
  )
  const assists = kind === 'self' ? [] : assistsOf(match, killer, damage, shares)
  match.own.tally.of(seat).downs += 1
  if (killer !== undefined && kind === 'team') score(match, killer, points.team, 'team')
  else if (killer !== undefined) {
    const tally = match.own.tally.of(killer)
    tally.kills += 1
    if (match.use(vitals).isUp(killer) || together.includes(killer)) tally.streak += 1
    score(match, killer, points.kill, 'kill')
  }
  for (const each of assists) {
    match.own.tally.of(each).assists += 1
    score(match, each, points.assist, 'assist')
  }
  if (kind === 'self') score(match, seat, points.self, 'self')
  match.emit('given', {
    seat,
    killer,
    kind,
    assists,
    sharers: shares.length === 0 ? [] : damage.map((each) => each.by),
    shares,
  })
}

/** Who gets the credit for a down: the killer, the assists, and their points. */
export const credit = shape.does({
  on: {
    'vitals.wounded'(match, { target, by, health }) {
      // Friend or foe is decided at the blow, whoever changes sides later.
      if (by !== undefined && by !== target && health > 0 && isFoe(match, target, by))
        match.own.marks.add({ target, by, amount: health, at: match.time.play })
    },
    'vitals.down'(match, { seat, by, together }) {
      giveCredit(match, seat, by, together)
      // Kills before endings: two who finish each other in one step both count.
      if (seat === together.at(-1)) for (const each of together) match.own.tally.of(each).streak = 0
    },
    'vitals.life-began'(match, { seat }) {
      for (const { id } of match.own.marks.where({ target: seat })) match.own.marks.remove(id)
    },
    'roster.left'(match, { seat }) {
      for (const { id } of match.own.marks.where({ target: seat })) match.own.marks.remove(id)
    },
  },
  calls: {
    /** How often a seat has brought others down in this bout. */
    kills: (match, seat: Seat): number => match.own.tally.of(seat).kills,
  },
})
