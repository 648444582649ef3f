import { z } from 'zod'
import { declareRule, type MatchOf } from '../match/index.ts'
import {
  amount,
  everyone,
  int,
  list,
  perSeat,
  type Seat,
  seatRef,
  single,
  text,
  time,
} from '../state/index.ts'
import { seconds } from '../time/index.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'
import { vitals } from './vitals.ts'

const shape = declareRule({
  name: 'respawn',
  needs: [vitals, phases, roster],
  knows: [rounds],
  settings: z.object({
    /** Ms of play time from going down to being back. */
    after: z.int().min(0).default(seconds(3)),
    /** Ms of protection after that. */
    protectFor: z.int().min(0).default(seconds(2)),
  }),
  state: {
    back: perSeat({ due: time().seenBy(everyone) }).each('life'),
    /** Downs of the step that are still to be scheduled; and those whose due found them absent. */
    waiting: single({ fallen: list(seatRef(), []), held: list(seatRef(), []) }).each('round'),
  },
  events: {
    scheduled: { seat: seatRef(), due: int() },
    cancelled: { seat: seatRef(), why: text() },
    back: { seat: seatRef().seenBy(everyone), life: int().seenBy(everyone) },
  },
  drafts: { schedule: { seat: seatRef(), after: amount().between(0, Number.MAX_SAFE_INTEGER) } },
  timers: ['back'],
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

function cancel(match: Match, seat: Seat, why: string) {
  if (match.own.back.of(seat).due === undefined) return
  match.timers.cancel('back', seat)
  match.own.back.of(seat).due = undefined
  match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
  match.emit('cancelled', { seat, why })
}

function cancelAll(match: Match, why: string) {
  for (const seat of match.use(roster).inPlay()) cancel(match, seat, why)
}

/** Brings back whoever goes down, after a fixed time, and protects them at first. */
export const respawn = shape.does({
  apply: {
    schedule(match, { seat, after }) {
      const due = match.time.play + after
      match.timers.start('back', { at: due, key: seat })
      match.own.back.of(seat).due = due
      match.emit('scheduled', { seat, due })
    },
  },
  timers: { back: (match, seat) => comeBack(match, seat) },
  on: {
    'vitals.down'(match, { seat }) {
      match.own.waiting.fallen = [...match.own.waiting.fallen, seat]
    },
    'roster.left': (match, { seat }) => cancel(match, seat, 'left'),
    'roster.returned'(match, { seat }) {
      if (!match.own.waiting.held.includes(seat)) return
      match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
      comeBack(match, seat)
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
      for (const seat of fallen) {
        if (!match.use(vitals).isUp(seat) && match.use(phases).phase() === 'live')
          match.resolve('schedule', { seat, after: match.settings.after })
      }
    },
  },
})
