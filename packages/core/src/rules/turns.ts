import { z } from 'zod'
import { declareRule, type Gate, type MatchOf, refuse } from '../match/index.ts'
import {
  everyone,
  flag,
  int,
  maybe,
  perSeat,
  type Seat,
  seatRef,
  single,
  text,
  time,
} from '../state/index.ts'
import { phases } from './phases.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'

/** A part of a turn. As a gate it lets the seat in turn act while that part lasts. */
export interface Step extends Gate {
  readonly step: string
  /** How many actions it allows. */
  readonly budget: number
}

/** A step of a turn, to be listed in `turns({ steps })` and named as an action's `when`. */
export const step = (name: string, { budget = 1 }: { readonly budget?: number } = {}): Step => ({
  gate: 'turns.step',
  given: [name],
  step: name,
  budget,
})

const shape = declareRule({
  name: 'turns',
  needs: [roster, phases],
  knows: [rounds],
  settings: z.object({
    /** Ms on the turn clock; then the seat passes. Null is without end. */
    turnTime: z.int().min(1).nullable().default(null),
    /** 'never': only who has no option passes, and then by itself. */
    passing: z.enum(['this-turn', 'never']).default('this-turn'),
  }),
  takes: (given: { readonly steps: readonly Step[] }) => given,
  state: {
    now: single({
      seat: maybe(seatRef()).seenBy(everyone),
      turn: int(0).seenBy(everyone),
      step: text('').seenBy(everyone),
      budget: int(0).seenBy(everyone),
      /** The end of the turn, on the turn clock. */
      ends: time().seenBy(everyone),
      /** Why the turn is to end when the step has settled. */
      ending: text(''),
    }),
    passes: perSeat({ passed: flag(false).seenBy(everyone) }),
  },
  events: {
    began: { seat: seatRef().seenBy(everyone), turn: int().seenBy(everyone) },
    ended: { seat: seatRef().seenBy(everyone), turn: int(), why: text().seenBy(everyone) },
    'all-passed': {},
  },
  timers: ['clock'],
})
type Match = MatchOf<typeof shape>

const stepNamed = (match: Match, name: string): Step | undefined =>
  match.taken.steps.find((each) => each.step === name)

/** From the seat after the last one in turn, by seat number; in each bout the first is another one. */
function nextSeat(match: Match): Seat | undefined {
  const order = match.use(roster).inPlay()
  const { seat } = match.own.now
  if (seat === undefined) return order[(match.bout - 1) % Math.max(1, order.length)]
  const number = match.seating.number(seat)
  return order.find((each) => match.seating.number(each) > number) ?? order[0]
}

/** A seat takes no further part: its turn ends now, and what it already did stands. */
function endFor(match: Match, seat: Seat, why: string) {
  if (match.own.now.seat === seat && match.own.now.ending === '') match.own.now.ending = why
}

function beginTurn(match: Match) {
  const seat = nextSeat(match)
  const [first] = match.taken.steps
  if (seat === undefined || first === undefined) return
  const { now } = match.own
  now.seat = seat
  now.turn += 1
  now.step = first.step
  now.budget = first.budget
  const { turnTime } = match.settings
  if (turnTime !== null) {
    match.timers.start('clock', { in: turnTime })
    now.ends = match.time.turn + turnTime
  }
  match.emit('began', { seat, turn: now.turn })
}

/** The budget of the step is used up: the next step, or the end of the turn. */
function nextStep(match: Match) {
  const { now } = match.own
  const { steps } = match.taken
  const next = steps[steps.findIndex((each) => each.step === now.step) + 1]
  if (next === undefined) now.ending = 'done'
  else {
    now.step = next.step
    now.budget = next.budget
  }
}

function endTurn(match: Match, seat: Seat) {
  const { now } = match.own
  const why = now.ending
  now.ending = ''
  match.timers.cancel('clock')
  now.ends = undefined
  const passes = why === 'passed' || why === 'stuck' || why === 'time-out'
  if (match.use(roster).isInPlay(seat)) match.own.passes.of(seat).passed = passes
  if (!passes) for (const each of match.seats) match.own.passes.of(each).passed = false
  match.emit('ended', { seat, turn: now.turn, why })
  if (match.seats.every((each) => match.own.passes.of(each).passed)) {
    match.emit('all-passed', {})
    for (const each of match.seats) match.own.passes.of(each).passed = false
  }
}

/** Whose turn it is, what it allows, and when it goes on. No rule ends a turn: turn ends are judged when a step has settled. */
export const turns = shape.does({
  actions: {
    pass: {
      input: {},
      decide(match, seat) {
        if (match.own.now.seat !== seat) return refuse('not-your-turn')
        if (match.settings.passing === 'never') return refuse('cannot-pass')
        match.own.now.ending = 'passed'
      },
    },
  },
  timers: {
    clock: {
      clock: 'turn',
      band: 'inner',
      fire(match) {
        match.own.now.ending = 'time-out'
      },
    },
  },
  gates: {
    step: {
      place: 'turn',
      check(match, { seat, given: [name = ''] }) {
        const { now } = match.own
        if (now.seat !== seat) return refuse('not-your-turn')
        if (now.step !== name) return refuse('wrong-step', { step: now.step })
        if (now.budget < 1) return refuse('none-left')
      },
      accepted(match) {
        match.own.now.budget -= 1
      },
    },
  },
  on: {
    'rounds.began': (match) => beginTurn(match),
    'phases.live-began'(match) {
      if (match.use(rounds) === undefined) beginTurn(match)
    },
    'roster.left': (match, { seat }) => endFor(match, seat, 'left'),
    'roster.out': (match, { seat }) => endFor(match, seat, 'out'),
  },
  settle: {
    tier: 'turn',
    wokenBy: ['now', 'roster.seats'],
    /** One move at a time: what a turn's end tells is heard before the next turn begins. */
    run(match) {
      const { now } = match.own
      if (match.use(phases).phase() !== 'live' || now.seat === undefined) return
      if (now.ending !== '') {
        endTurn(match, now.seat)
        now.step = ''
      } else if (now.step === '') beginTurn(match)
      else if (now.budget === 0) nextStep(match)
      else if (match.settings.passing === 'never' && isStuck(match, now.seat)) now.ending = 'stuck'
    },
  },
  calls: {
    current: (match): Seat | undefined => match.own.now.seat,
  },
})

function isStuck(match: Match, seat: Seat): boolean {
  const here = stepNamed(match, match.own.now.step)
  return here !== undefined && !match.canAct(seat, here)
}
