import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { phases } from '../phases/phases.ts'
import { whenOutOfPlay, whenPlayBegins } from '../play.ts'
import { roster } from '../roster/roster.ts'
import { fell, heal, settleStep, strike } from './blows.ts'
import {
  afflict,
  beginDecay,
  decayOnce,
  endAfflictions,
  endOverTime,
  recharge,
  regrow,
  stirRegrowth,
  tick,
} from './over-time.ts'
import { endProtection, protect } from './protection.ts'
import { type Match, shape } from './shape.ts'

/** A blow, as the calls `hurt` and `hurtAll` take it. */
export interface Blow {
  readonly target: Seat
  readonly amount: number
  /** Who strikes. Default: the surroundings. */
  readonly by?: Seat
  /** Default: 'blow'. */
  readonly kind?: string
  /** What it passes. Default: nothing. */
  readonly through?: 'shield' | 'armour' | 'all'
}

/** The cause of a down without a blow. */
const RULE = 'rule'

function beginLife(match: Match, seat: Seat) {
  endProtection(match, seat)
  match.beginSpan('life', seat)
  endAfflictions(match, seat)
  const { max, shield, armour } = match.settings
  const body = match.own.body.of(seat)
  body.max = max
  body.health = max
  body.shieldMax = shield
  body.shield = shield
  body.armour = armour
  const lives = match.own.lives.of(seat)
  const life = ++lives.life
  lives.began = match.time.match
  lives.round = match.own.rounds.begun
  beginDecay(match, seat)
  match.emit('life-began', { seat, life })
}

function beginLives(match: Match) {
  match.own.rounds.begun += 1
  for (const seat of match.use(roster).inPlay()) beginLife(match, seat)
}

/** A seat that comes into live play begins a life. */
function enter(match: Match, seat: Seat) {
  if (match.use(phases).phase() === 'live' && match.use(roster).isInPlay(seat)) beginLife(match, seat)
}

/** A seat that is brought in goes on if it is up and has begun a life in this round. Otherwise it begins one. */
function bringIn(match: Match, seat: Seat) {
  const hasLife = match.own.lives.of(seat).round === match.own.rounds.begun && !match.own.body.of(seat).down
  if (hasLife) resume(match, seat)
  else enter(match, seat)
}

/**
 * A seat that comes back in the round in which it left goes on as it was. In a later round it begins a life, like
 * everyone.
 */
function resume(match: Match, seat: Seat) {
  if (!match.use(roster).isInPlay(seat)) return
  if (match.use(phases).phase() !== 'live' && match.use(phases).phase() !== 'break') return
  if (match.own.lives.of(seat).round < match.own.rounds.begun) beginLife(match, seat)
  else if (!match.own.body.of(seat).down) {
    beginDecay(match, seat)
    stirRegrowth(match, seat)
  }
}

function endPlay(match: Match, seat: Seat) {
  endOverTime(match, seat)
  endProtection(match, seat)
}

/** A lower maximum is no wound: health is clamped to it. A higher one leaves health as it is. */
function setMax(match: Match, seat: Seat, max: number) {
  const body = match.own.body.of(seat)
  body.max = Math.max(1, max)
  body.health = Math.min(body.health, body.max)
}

/** Health, shields and armour; damage at once and over time; healing, regrowth and decay; protection; going down. */
export const vitals = shape.does({
  refusals: {
    'stale-life': 'This was made in an earlier life of the seat. Send it again with the present life.',
    down: 'The seat is down. Wait until it is back.',
    'target-absent': 'The target is absent and cannot be hurt. Choose another.',
    'target-down': 'The target is down. Choose another, or wait.',
    'not-down': 'The seat is up. Only one that is down can be raised.',
  },
  discloses: [
    ...['health', 'max', 'shield', 'shieldMax', 'armour'].map((cell) => ({
      secret: `vitals.body.${cell}`,
      by: 'vitals.down',
      to: 'everyone',
      why: 'who has nothing left goes down, in front of everyone',
    })),
    ...['target', 'left'].map((cell) => ({
      secret: `vitals.afflictions.${cell}`,
      by: ['vitals.down', 'vitals.blocked'],
      to: 'everyone',
      why: 'whom it wears down goes down, and what protection keeps off is shown',
    })),
  ],
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
      /** A seat that went down in this same ms may still strike back: two that strike each other in one ms both fall. */
      check(match, { seat }) {
        if (seat === undefined) return
        const { down, downAt } = match.own.body.of(seat)
        if (down && downAt !== match.time.match) return refuse('down', { seat })
      },
    },
  },
  apply: {
    hurt: strike,
    heal: (match, { target, amount }) => heal(match, target, amount),
    afflict,
  },
  timers: {
    protection: { band: 'lapse', fire: (match, seat) => endProtection(match, seat) },
    tick: { keyedBy: 'row', fire: (match, id) => tick(match, id) },
    regen: (match, seat) => regrow(match, seat),
    recharge: (match, seat) => recharge(match, seat),
    decay: (match, seat) => decayOnce(match, seat),
  },
  on: {
    /** The start of a round is a new life for everyone in play. */
    ...whenPlayBegins(beginLives),
    'roster.joined': (match, { seat }) => enter(match, seat),
    'roster.came-back': (match, { seat }) => resume(match, seat),
    'roster.back-in': (match, { seat }) => bringIn(match, seat),
    ...whenOutOfPlay(endPlay),
    'phases.changed'(match, { to }) {
      if (to === 'over') for (const seat of match.seating.all) endProtection(match, seat)
    },
    'rounds.ended'(match) {
      for (const seat of match.seating.all) endProtection(match, seat)
      for (const { target } of match.own.afflictions.all()) endAfflictions(match, target)
    },
  },
  /** A new `max` counts at once for everyone. Health above it is clamped to it. */
  changed(match, rule) {
    if (rule !== 'vitals') return
    for (const seat of match.seating.all)
      if (match.own.lives.of(seat).life > 0) setMax(match, seat, match.settings.max)
  },
  settle: { tier: 'score', wokenBy: ['step'], run: settleStep },
  calls: {
    /** True if the seat is not down. */
    isUp: (match, seat: Seat): boolean => !match.own.body.of(seat).down,
    /** Returns the health of a seat. */
    health: (match, seat: Seat): number => match.own.body.of(seat).health,
    /** Returns which life a seat is in. */
    life: (match, seat: Seat): number => match.own.lives.of(seat).life,
    /** Brings a seat down without a blow, by order of a rule. Nobody gets credit. */
    bringDown: (match, seat: Seat, cause = RULE) => fell(match, seat, cause),
    /** Begins a new life at full health, with the next life's number. */
    revive: (match, seat: Seat) => beginLife(match, seat),
    /**
     * Brings a seat up again in the same life, with this much health. The down and its credit stay, and no life is
     * used.
     */
    raise(match, seat: Seat, health: number) {
      const body = match.own.body.of(seat)
      if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
      if (!body.down) return refuse('not-down', { seat })
      body.health = Math.max(1, Math.min(health, body.max))
      body.down = false
      body.downAt = undefined
      beginDecay(match, seat)
      match.emit('raised', { seat })
      return undefined
    },
    /** Sets a seat's maximum. A lower one clamps health without a wound; a higher one leaves it. */
    setMax: (match, seat: Seat, max: number) => setMax(match, seat, max),
    /** Protects a seat from the blows of others for this many ms of play time. A longer protection stays. */
    protect: (match, seat: Seat, ms: number) => protect(match, seat, ms),
    /** Ends a seat's protection now. */
    endProtection: (match, seat: Seat) => endProtection(match, seat),
    /**
     * Strikes several blows at once, in this order. They are judged together: whoever falls has fallen at the same time.
     * Returns a ruling for each.
     */
    hurtAll: (match, blows: readonly Blow[]) => blows.map((blow) => match.resolve('hurt', blow)),
  },
})
