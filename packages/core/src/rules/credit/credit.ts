import type { Seat } from '../../cells/index.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { largestRemainder } from '../shares.ts'
import { SWITCHED } from '../teams/shape.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'
import { type Damage, damageOf, erase, eraseInProportion, forget, lastFoe, mark, marksOn } from './marks.ts'
import { type Match, shape } from './shape.ts'

/** The kind of a down that a rule has ordered: marks don't count for it. */
const RULE = 'rule'

const isFoe = (match: Match, a: Seat, b: Seat): boolean => match.use(teams)?.foes(a, b) ?? true

/** True if a seat's marks count. If it has left, the setting decides. */
const counts = (match: Match, by: Seat): boolean =>
  match.settings.leaverCredit === 'keep' || !match.seating.isGone(by)

interface Kill {
  readonly killer: Seat | undefined
  readonly kind: string
}
const nobody = (kind: string): Kill => ({ killer: undefined, kind })

/** Returns who brought the seat down: by the last blow, and by what foes did before. */
function killOf(
  match: Match,
  seat: Seat,
  by: Seat | undefined,
  cause: string,
  damage: readonly Damage[],
): Kill {
  if (cause === RULE) return nobody(RULE)
  const { surroundings, selfDown, pushWindow, who, leaverCredit } = match.settings
  const still = (each: Seat): boolean => counts(match, each)
  const pushedBy = (when: boolean, kind: string): Kill => {
    const foe = when ? lastFoe(match, seat, pushWindow, still) : undefined
    return foe === undefined ? nobody(kind) : { killer: foe, kind: 'pushed' }
  }
  if (by === undefined) return pushedBy(surroundings === 'last-foe', 'surroundings')
  if (by === seat) return pushedBy(selfDown === 'last-foe', 'self')
  if (!isFoe(match, seat, by)) return { killer: by, kind: 'team' }
  if (!still(by))
    return leaverCredit === 'next'
      ? { killer: lastFoe(match, seat, match.settings.assistWindow, still), kind: 'kill' }
      : nobody('kill')
  return { killer: who === 'last-blow' ? by : mostOf(match, seat, by, damage), kind: 'kill' }
}

/** Returns who did most damage. If tied: whoever struck last, if among them, else whose mark is the latest. */
function mostOf(match: Match, seat: Seat, by: Seat, damage: readonly Damage[]): Seat {
  const most = Math.max(...damage.map(({ amount }) => amount))
  const level = damage.filter(({ amount }) => amount === most).map((each) => each.by)
  if (level.length === 0 || level.includes(by)) return by
  return marksOn(match, seat).findLast((row) => level.includes(row.by))?.by ?? by
}

interface Assist {
  readonly by: Seat
  readonly share: number
}

function assistsOf(
  match: Match,
  killer: Seat | undefined,
  damage: readonly Damage[],
  shares: readonly number[],
): Assist[] {
  const { assistAt, maxAssists } = match.settings
  return damage
    .map(({ by }, at) => ({ by, share: shares[at] ?? 0 }))
    .filter(({ by, share }) => by !== killer && share > 0 && share >= assistAt)
    .sort((a, b) => b.share - a.share) // level shares stay in the order of their first marks
    .slice(0, maxAssists ?? undefined)
}

function score(match: Match, seat: Seat, amount: number, reason: string) {
  match.use(scores).give({ seat, amount, reason })
}

function countKill(match: Match, killer: Seat, together: readonly Seat[]) {
  const tally = match.own.tally.of(killer)
  tally.kills += 1
  if (match.use(vitals).isUp(killer) || together.includes(killer)) {
    tally.streak += 1
    if (tally.streak >= match.settings.streakFrom)
      match.emit('streak', { seat: killer, streak: tally.streak })
  }
  const goesOn = tally.killedAt !== undefined && match.time.play - tally.killedAt < match.settings.multiWindow
  tally.multi = goesOn ? tally.multi + 1 : 1
  tally.killedAt = match.time.play
  score(match, killer, match.settings.points.kill, 'kill')
}

/** True if the killer brought down the seat that last brought it down. Counts once each time. */
function takesRevenge(match: Match, seat: Seat, killer: Seat | undefined): boolean {
  match.own.tally.of(seat).downedBy = killer
  if (killer === undefined || match.own.tally.of(killer).downedBy !== seat) return false
  match.own.tally.of(killer).downedBy = undefined
  return true
}

function giveCredit(
  match: Match,
  seat: Seat,
  by: Seat | undefined,
  cause: string,
  together: readonly Seat[],
) {
  const { points, assistBy } = match.settings
  const damage = damageOf(match, seat, (each) => counts(match, each))
  const found = killOf(match, seat, by, cause, damage)
  const { killer, kind } =
    found.killer === undefined || match.resolve('give', { seat, killer: found.killer, kind: found.kind }).ok
      ? found
      : nobody(found.kind)
  const shares = largestRemainder(
    damage.map(({ amount }) => amount),
    100,
  )
  const assists = kind === 'self' || kind === RULE ? [] : assistsOf(match, killer, damage, shares)
  match.own.tally.of(seat).deaths += 1
  const revenge = takesRevenge(match, seat, kind === 'team' ? undefined : killer)
  if (killer !== undefined && kind === 'team') score(match, killer, points.team, 'team')
  else if (killer !== undefined) countKill(match, killer, together)
  for (const { by: helper, share } of assists) {
    match.own.tally.of(helper).assists += 1
    const part = assistBy === 'flat' ? points.assist : Math.floor((points.assist * share) / 100)
    score(match, helper, part, 'assist')
  }
  if (kind === 'self') score(match, seat, points.self, 'self')
  match.emit('given', {
    seat,
    killer,
    kind,
    assists: assists.map((each) => each.by),
    revenge,
    sharers: shares.length === 0 ? [] : damage.map((each) => each.by),
    shares,
  })
}

function endStreak(match: Match, seat: Seat) {
  const tally = match.own.tally.of(seat)
  if (tally.streak >= match.settings.streakFrom) match.emit('streak-ended', { seat, streak: tally.streak })
  tally.streak = 0
}

/** Who gets the credit for a down: the killer, the assists, their points, and the streaks. */
export const credit = shape.does({
  apply: { give() {} },
  on: {
    'vitals.wounded'(match, { target, by, health, shield }) {
      if (by !== undefined && by !== target && health + shield > 0 && isFoe(match, target, by))
        mark(match, target, by, { health, shield })
    },
    'vitals.healed'(match, { target, amount }) {
      const { healErases } = match.settings
      if (healErases === 'oldest') erase(match, target, 'health', amount)
      if (healErases === 'in-proportion') eraseInProportion(match, target, amount)
    },
    'vitals.recharged': (match, { target, amount }) => erase(match, target, 'shield', amount),
    'vitals.down'(match, { seat, by, cause, together }) {
      if (cause !== SWITCHED) giveCredit(match, seat, by, cause, together)
      // Kills count before endings: two seats that finish each other in one step both get credit.
      if (seat === together.at(-1)) for (const each of together) endStreak(match, each)
    },
    'vitals.life-began': (match, { seat }) => forget(match, seat),
    'rounds.ended'(match) {
      for (const seat of match.seats) endStreak(match, seat)
    },
    'roster.left'(match, { seat }) {
      forget(match, seat)
      endStreak(match, seat)
    },
  },
  calls: {
    /** Returns how often a seat has brought others down in this bout. */
    kills: (match, seat: Seat): number => match.own.tally.of(seat).kills,
    /** Returns how many a seat has brought down since it last went down or the round began. */
    streak: (match, seat: Seat): number => match.own.tally.of(seat).streak,
    /** Notes that a foe has pushed a seat. It counts if the surroundings finish the seat. */
    push(match, target: Seat, by: Seat) {
      if (match.use(roster).isInPlay(target) && target !== by && isFoe(match, target, by))
        mark(match, target, by, { health: 0, shield: 0 })
    },
  },
})
