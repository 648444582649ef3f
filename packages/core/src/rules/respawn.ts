import { z } from 'zod'
import { declareRule, type MatchOf } from '../match/index.ts'
import {
  amount,
  everyone,
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
import { seconds } from '../time/index.ts'
import { phases } from './phases.ts'
import { delayOf } from './respawn-delay.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'
import { vitals } from './vitals/vitals.ts'

const shape = declareRule({
  name: 'respawn',
  needs: [vitals, phases, roster],
  knows: [rounds],
  settings: z.object({
    /** 'growing' waits longer after each down, 'wave' brings all back together, 'never' puts out at the first down. */
    mode: z.enum(['fixed', 'growing', 'wave', 'never']).default('fixed'),
    /** Ms of play time from going down to being back; with 'growing' after the first down. */
    after: z.int().min(0).default(seconds(3)),
    /** Ms that 'growing' adds for each further down of the bout. */
    step: z.int().min(0).default(seconds(1)),
    /** The longest that 'growing' gets, ms; null is without end. */
    cap: z.int().min(0).nullable().default(null),
    /** Ms of a round's play time from wave to wave. */
    waveEvery: z.int().min(1).default(seconds(10)),
    /** Who goes down less than this (ms) before a wave waits for the next one. */
    waveLead: z.int().min(0).default(0),
    /** How many lives a seat has in all; null is without end. */
    lives: z.int().min(1).nullable().default(null),
    livesPer: z.enum(['bout', 'round']).default('bout'),
    /** Ms of protection on coming back. */
    protectFor: z.int().min(0).default(seconds(2)),
  }),
  state: {
    back: perSeat({ due: time().seenBy(everyone) }).each('life'),
    /** Lives that are left, the present one with them; nothing where they have no end. */
    lives: perSeat({ left: maybe(int()).seenBy(everyone), downs: int(0).seenBy(everyone) }),
    /** Downs of the step that are still to be scheduled; and those whose due found them absent. */
    waiting: single({ fallen: list(seatRef(), []), held: list(seatRef(), []) }).each('round'),
    /** On the play clock. */
    round: single({ began: int(0) }).each('round'),
  },
  events: {
    scheduled: { seat: seatRef(), due: int() },
    cancelled: { seat: seatRef(), why: text() },
    back: { seat: seatRef().seenBy(everyone), life: int().seenBy(everyone) },
  },
  drafts: { schedule: { seat: seatRef(), after: amount().between(0, Number.MAX_SAFE_INTEGER) } },
  timers: ['back', 'wave'],
})
type Match = MatchOf<typeof shape>

function comeBack(match: Match, seat: Seat) {
  if (!match.use(roster).isHere(seat)) {
    match.own.waiting.held = [...match.own.waiting.held, seat]
    return
  }
  match.use(vitals).revive(seat)
  match.use(vitals).protect(seat, match.settings.protectFor)
  match.emit('back', { seat, life: match.use(vitals).life(seat) })
}

/** All whom this wave brings back, by seat number, in one step. */
function bringWave(match: Match, due: number) {
  for (const seat of match.use(roster).inPlay())
    if (match.own.back.of(seat).due === due) comeBack(match, seat)
}

function cancel(match: Match, seat: Seat, why: string) {
  if (match.own.back.of(seat).due === undefined) return
  match.timers.cancel('back', seat)
  match.own.back.of(seat).due = undefined
  match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
  match.emit('cancelled', { seat, why })
}

function cancelAll(match: Match, why: string) {
  for (const seat of match.use(roster).all()) cancel(match, seat, why)
}

/** A life is used up by the down; who has none left is out. */
function afterDown(match: Match, seat: Seat) {
  const { settings } = match
  const lives = match.own.lives.of(seat)
  lives.downs += 1
  if (lives.left !== undefined) lives.left -= 1
  if (lives.left === 0 || settings.mode === 'never') match.use(roster).putOut(seat, 'no-lives')
  else {
    const played = match.time.play - match.own.round.began
    match.resolve('schedule', { seat, after: delayOf(settings, lives.downs, played) })
  }
}

function giveLives(match: Match) {
  const { lives } = match.settings
  for (const seat of match.seats) match.own.lives.of(seat).left = lives ?? undefined
}

function beginRound(match: Match) {
  match.own.round.began = match.time.play
  if (match.settings.livesPer !== 'round') return
  giveLives(match)
  for (const seat of match.seats) match.use(roster).bringIn(seat)
}

/** Brings back whoever goes down, as long as lives are left, and protects them at first. */
export const respawn = shape.does({
  apply: {
    schedule(match, { seat, after }) {
      const due = match.time.play + after
      if (match.settings.mode === 'wave') match.timers.start('wave', { at: due, key: String(due) })
      else match.timers.start('back', { at: due, key: seat })
      match.own.back.of(seat).due = due
      match.emit('scheduled', { seat, due })
    },
  },
  setUp: giveLives,
  timers: { back: comeBack, wave: (match, due) => bringWave(match, Number(due)) },
  on: {
    'vitals.down'(match, { seat }) {
      match.own.waiting.fallen = [...match.own.waiting.fallen, seat]
    },
    'vitals.raised'(match, { seat }) {
      const { due } = match.own.back.of(seat)
      const lives = match.own.lives.of(seat)
      // A down that was raised takes no life.
      if (due !== undefined && lives.left !== undefined) lives.left += 1
      cancel(match, seat, 'raised')
    },
    'roster.joined'(match, { seat }) {
      match.own.lives.of(seat).left = match.settings.lives ?? undefined
    },
    'roster.left': (match, { seat }) => cancel(match, seat, 'left'),
    'roster.out': (match, { seat }) => cancel(match, seat, 'out'),
    'roster.returned'(match, { seat }) {
      if (!match.own.waiting.held.includes(seat)) return
      match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
      comeBack(match, seat)
    },
    'rounds.began': (match) => beginRound(match),
    'phases.live-began'(match) {
      if (match.use(rounds) === undefined) beginRound(match)
    },
    'rounds.ended': (match) => cancelAll(match, 'round-over'),
    'phases.changed'(match, { to }) {
      if (to === 'over') cancelAll(match, 'over')
    },
  },
  settle: {
    tier: 'return',
    wokenBy: ['waiting'],
    run(match) {
      const { fallen } = match.own.waiting
      if (fallen.length === 0) return
      match.own.waiting.fallen = []
      for (const seat of fallen)
        if (!match.use(vitals).isUp(seat) && match.use(phases).phase() === 'live') afterDown(match, seat)
    },
  },
  calls: {
    /** Lives that are left, the present one with them; nothing where they have no end. */
    lives: (match, seat: Seat): number | undefined => match.own.lives.of(seat).left,
  },
})
