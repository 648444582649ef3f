import { z } from 'zod'
import { declareRule, idle, type MatchOf, refuse } from '../match/index.ts'
import {
  amount,
  bySetting,
  everyone,
  flag,
  int,
  list,
  maybe,
  perSeat,
  type Seat,
  seatRef,
  single,
  text,
  time,
} from '../state/index.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'

const shape = declareRule({
  name: 'vitals',
  needs: [roster, phases],
  knows: [rounds],
  settings: z.object({
    max: z.int().min(1).default(100),
    healthSeen: z.enum(['owner', 'everyone']).default('owner'),
  }),
  state: {
    body: perSeat({
      health: int(0).seenBy(bySetting('healthSeen')),
      max: int(0).seenBy(bySetting('healthSeen')),
      down: flag(false).seenBy(everyone),
      /** On the play clock. */
      protectedUntil: time().seenBy(everyone),
      /** Who struck last, and how: the cause when it goes down. */
      struckBy: maybe(seatRef()),
      struckHow: text(''),
    }).each('life'),
    lives: perSeat({ life: int(0).seenBy(everyone) }),
    /** What a step leaves to its settling, so that the blows of one volley are simultaneous. */
    step: single({ fallen: list(seatRef(), []), strikers: list(seatRef(), []) }).each('round'),
  },
  events: {
    'life-began': { seat: seatRef(), life: int() },
    wounded: { target: seatRef(), by: maybe(seatRef()), kind: text(), health: int(), spilled: int() },
    blocked: { target: seatRef().seenBy(everyone), by: maybe(seatRef()).seenBy(everyone) },
    healed: { target: seatRef(), amount: int() },
    raised: { seat: seatRef().seenBy(everyone) },
    /** `together` are all who fell in the same step, in the order in which they reached 0. */
    down: { seat: seatRef(), by: maybe(seatRef()), cause: text(), together: list(seatRef()) },
  },
  drafts: {
    hurt: {
      target: seatRef(),
      amount: amount().between(0, Number.MAX_SAFE_INTEGER),
      by: maybe(seatRef()),
      kind: text('blow'),
    },
    heal: { target: seatRef(), amount: amount().between(0, Number.MAX_SAFE_INTEGER) },
  },
})
type Match = MatchOf<typeof shape>

const isProtected = (match: Match, seat: Seat): boolean =>
  (match.own.body.of(seat).protectedUntil ?? 0) > match.time.play

function beginLife(match: Match, seat: Seat) {
  match.begins('life', seat)
  const body = match.own.body.of(seat)
  body.max = match.settings.max
  body.health = match.settings.max
  const life = ++match.own.lives.of(seat).life
  match.emit('life-began', { seat, life })
}

function beginLives(match: Match) {
  for (const seat of match.use(roster).inPlay()) beginLife(match, seat)
}

/** Who comes into live play begins a life. */
function enter(match: Match, seat: Seat) {
  if (match.use(phases).phase() === 'live') beginLife(match, seat)
}

/** Protection ends for those who struck; then those at 0 go down, in the order in which they reached it. */
function settleStep(match: Match) {
  const { fallen, strikers } = match.own.step
  if (strikers.length > 0) match.own.step.strikers = []
  for (const seat of strikers) match.own.body.of(seat).protectedUntil = undefined
  const together = fallen.filter(
    (seat) => match.own.body.of(seat).health === 0 && match.use(roster).isInPlay(seat),
  )
  if (fallen.length > 0) match.own.step.fallen = []
  for (const seat of together) match.own.body.of(seat).down = true
  for (const seat of together) {
    const { struckBy, struckHow } = match.own.body.of(seat)
    match.emit('down', { seat, by: struckBy, cause: struckHow, together })
  }
}

/** Health, damage, healing, protection, going down. */
export const vitals = shape.does({
  apply: {
    hurt(match, { target, amount, by, kind }) {
      if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
      const body = match.own.body.of(target)
      if (body.down) return refuse('target-down', { target })
      if (by !== undefined && by !== target && isProtected(match, by))
        match.own.step.strikers = [...match.own.step.strikers, by]
      if (isProtected(match, target) && by !== target) {
        match.emit('blocked', { target, by })
        return idle
      }
      if (amount === 0) return
      const taken = Math.min(amount, body.health)
      if (taken > 0) {
        body.health -= taken
        body.struckBy = by
        body.struckHow = kind
        if (body.health === 0) match.own.step.fallen = [...match.own.step.fallen, target]
      }
      match.emit('wounded', { target, by, kind, health: taken, spilled: amount - taken })
    },
    heal(match, { target, amount }) {
      if (!match.use(roster).isInPlay(target)) return refuse('not-in-play', { target })
      const body = match.own.body.of(target)
      if (body.down) return refuse('target-down', { target })
      const gained = Math.min(amount, body.max - body.health)
      if (gained === 0) return
      body.health += gained
      match.emit('healed', { target, amount: gained })
    },
  },
  gates: {
    life: {
      place: 'life',
      applies: 'always',
      check(match, { lives = {} }) {
        for (const [seat, life] of Object.entries(lives)) {
          const now = match.own.lives.of(seat).life
          if (life !== now) return refuse('stale-life', { seat, life: now })
        }
      },
    },
    up: {
      place: 'up',
      check(match, { seat }) {
        if (seat !== undefined && match.own.body.of(seat).down) return refuse('down', { seat })
      },
    },
  },
  on: {
    /** The begin of a round is a new life for everyone in play. */
    'rounds.began': (match) => beginLives(match),
    'phases.live-began'(match) {
      if (match.use(rounds) === undefined) beginLives(match)
    },
    'roster.joined': (match, { seat }) => enter(match, seat),
    'roster.back-in': (match, { seat }) => enter(match, seat),
  },
  /** A lower most takes no wound: health is clamped, and a higher one leaves it. */
  changed(match) {
    for (const seat of match.seating.all) {
      const body = match.own.body.of(seat)
      if (match.own.lives.of(seat).life === 0) continue
      body.max = match.settings.max
      body.health = Math.min(body.health, body.max)
    }
  },
  settle: { tier: 'score', wokenBy: ['step'], run: (match) => settleStep(match) },
  calls: {
    isUp: (match, seat: Seat): boolean => !match.own.body.of(seat).down,
    health: (match, seat: Seat): number => match.own.body.of(seat).health,
    life: (match, seat: Seat): number => match.own.lives.of(seat).life,
    /** A new life: whole again, with the next life's number. */
    revive: (match, seat: Seat) => beginLife(match, seat),
    /** Up again in the same life, with so much health: the down and its credit stand, and takes no life. */
    raise(match, seat: Seat, health: number) {
      const body = match.own.body.of(seat)
      if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
      if (!body.down) return refuse('not-down', { seat })
      body.health = Math.max(1, Math.min(health, body.max))
      body.down = false
      match.emit('raised', { seat })
      return undefined
    },
    /** No blow of others lands until then (ms of play time from now); a longer protection stays. */
    protect(match, seat: Seat, ms: number) {
      const body = match.own.body.of(seat)
      body.protectedUntil = Math.max(body.protectedUntil ?? 0, match.time.play + ms)
    },
  },
})
