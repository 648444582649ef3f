import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { startClock } from './advance-turn.ts'
import {
  ALL_AWAY,
  beginRound,
  endFor,
  endForGone,
  goOn,
  holdIfAllAway,
  holdTurns,
  isAnyHere,
  notInTurn,
  passRefusal,
  resumeTurns,
  stayHeld,
  useUp,
} from './going-on.ts'
import { others, reverse, withFirst } from './order.ts'
import { NO_LIMIT, type Step, shape } from './shape.ts'
import { owed, pay, setOwed } from './steps.ts'

/** Whose turn it is, what it allows, and when it goes on. No rule ends a turn: turns end when a step has settled. */
export const turns = shape.does({
  refusals: {
    'not-your-turn': "It is another seat's turn. Wait for yours.",
    'stale-turn': 'This was made in an earlier turn. Look at the present one, and send it again.',
    'window-open': 'Others may react first. Wait until their window has closed.',
    owes: 'Something must be done first in this turn. Do what it asks for.',
    'wrong-step': 'This belongs to another step of the turn. Do what the present step asks for.',
    'none-left': 'No actions are left in this step. Go on to the next.',
    'cannot-pass': 'Passing is not allowed here. Choose one of your options.',
    'cannot-take-back': 'Nothing can be taken back in this mode. Play on.',
    'nothing-to-take-back':
      'Nothing of yours can be taken back: chance, secrets or others came into it. Play on.',
  },
  gates: {
    turn: {
      place: 'life',
      applies: 'always',
      check(match, { turn }) {
        if (turn !== undefined && turn !== match.own.now.turn)
          return refuse('stale-turn', { turn: match.own.now.turn })
      },
    },
    step: {
      place: 'turn',
      check(match, { seat = '', given: [name = ''], cost }) {
        const { now } = match.own
        const refusal = notInTurn(match, seat)
        if (refusal !== undefined) return refusal
        if (now.step !== name) return refuse('wrong-step', { step: now.step })
        const { budget } = match.own.seats.of(seat)
        if (budget !== NO_LIMIT && owed(match, seat, name) === 0 && (budget < cost || budget === 0))
          return refuse('none-left')
      },
      accepted(match, { seat = '', cost }) {
        pay(match, seat, cost)
        if (match.settings.takingBack) match.takeBack.allow(seat)
      },
    },
  },
  apply: {
    budget(match, { seat, add }) {
      const row = match.own.seats.of(seat)
      if (!match.own.now.seats.includes(seat)) return refuse('not-your-turn')
      if (row.budget !== NO_LIMIT) row.budget = Math.max(0, row.budget + add)
      return undefined
    },
  },
  actions: {
    /** Ends the turn of the seat. */
    pass: {
      cost: 0,
      input: {},
      decide(match, seat) {
        const refusal = passRefusal(match, seat)
        if (refusal !== undefined) return refusal
        if (match.own.now.seats.length > 1) {
          match.own.seats.of(seat).passed = true
          useUp(match, seat)
        } else match.own.now.ending = 'passed'
        return undefined
      },
    },
    /** Ends the current step before its budget is used up. */
    'close-step': {
      cost: 0,
      input: {},
      decide(match, seat) {
        const { step } = match.own.now
        const refusal = notInTurn(match, seat)
        if (refusal !== undefined) return refusal
        if (owed(match, seat, step) > 0) return refuse('owes', { step })
        if (match.settings.passing === 'never') return refuse('cannot-pass')
        if (match.settings.takingBack) match.takeBack.allow(seat)
        return useUp(match, seat)
      },
    },
    /** Undoes the seat's last action of this turn, if nothing has happened since that can't be undone. */
    'take-back': {
      cost: 0,
      input: {},
      decide(match, seat) {
        if (!match.settings.takingBack) return refuse('cannot-take-back')
        const refusal = notInTurn(match, seat)
        if (refusal !== undefined) return refusal
        if (!match.takeBack.undo(seat)) return refuse('nothing-to-take-back')
        match.emit('taken-back', { seat })
        return undefined
      },
    },
  },
  timers: {
    clock: {
      clock: 'turn',
      band: 'inner',
      fire(match) {
        match.own.now.timedOut = true
      },
    },
  },
  on: {
    'rounds.began': (match) => beginRound(match),
    'phases.live-began'(match) {
      if (match.use(rounds) === undefined) beginRound(match)
    },
    'rounds.ended'(match, { winners }) {
      match.own.starter.winners = winners
      match.timers.cancel('clock')
      match.own.now.finished = true
    },
    // The end of a pause or a freeze starts all clocks. A turn that was held up stays held up.
    'phases.paused': (match) => stayHeld(match),
    'phases.frozen': (match) => stayHeld(match),
    'roster.absent': (match) => holdIfAllAway(match),
    'roster.left'(match, { seat }) {
      endFor(match, seat, 'left')
      holdIfAllAway(match)
    },
    'roster.sidelined'(match, { seat }) {
      endFor(match, seat, 'out')
      holdIfAllAway(match)
    },
    'roster.joined'(match) {
      if (isAnyHere(match)) resumeTurns(match, ALL_AWAY)
    },
    'roster.returned'(match, { seat }) {
      match.own.seats.of(seat).away = 0
      match.own.seats.of(seat).skipped = false
      if (isAnyHere(match)) resumeTurns(match, ALL_AWAY)
      const goesOn = match.use(phases).phase() === 'live' && !match.own.now.finished
      if (goesOn && match.own.now.seats.includes(seat) && !match.timers.runs('clock')) startClock(match)
    },
  },
  settle: {
    tier: 'turn',
    wokenBy: ['now', 'seats', 'order', 'roster.seats'],
    run(match) {
      const { now } = match.own
      if (match.use(phases).phase() !== 'live' || now.finished || now.turn === 0) return
      if (now.held.size === 0) goOn(match)
      else endForGone(match)
    },
  },
  calls: {
    /** Returns whose turn it is; nobody if several act together. */
    current: (match): Seat | undefined => match.own.now.seat,
    /** True if it is the turn of the seat. */
    isInTurn: (match, seat: Seat): boolean => match.own.now.seats.includes(seat),
    /**
     * This many actions of that step must be done in this turn. Each accepted one pays one, and takes nothing from
     * the budget.
     */
    owe: (match, seat: Seat, step: Step, n: number) =>
      setOwed(match, seat, step.step, owed(match, seat, step.step) + n),
    /** Sets what is left of the current step's budget to nothing. */
    useUp,
    /** Moves this much of a seat's budget to another: at once if it is in turn, otherwise to its next turn. */
    transfer(match, from: Seat, to: Seat, n: number) {
      const giver = match.own.seats.of(from)
      if (!Number.isSafeInteger(n) || n < 0)
        return refuse('bad-input', { issues: [`a budget cannot give ${n}: give a whole number`] })
      if (!match.own.now.seats.includes(from)) return refuse('not-your-turn')
      if (giver.budget === NO_LIMIT || giver.budget < n) return refuse('none-left')
      giver.budget -= n
      const taker = match.own.seats.of(to)
      if (!match.own.now.seats.includes(to)) taker.bonus += n
      else if (taker.budget !== NO_LIMIT) taker.budget += n
      return undefined
    },
    /** Gives a seat another turn, right after the current one. */
    extra(match, seat: Seat) {
      const { order } = match.own
      const { maxExtra } = match.settings
      const isFull = maxExtra !== null && order.extra.length >= maxExtra
      if (isFull || !match.use(roster).isInPlay(seat)) {
        match.emit('extra-dropped', { seat, why: isFull ? 'too-many' : 'out' })
        return
      }
      order.extra = [...order.extra, seat]
      match.emit('extra-given', { seat })
    },
    /** Makes a seat miss this many of its regular turns. */
    miss(match, seat: Seat, n: number) {
      match.own.seats.of(seat).misses += n
    },
    /** Makes what was done final. For a mode that wrote something hidden where somebody sees it, or announced it. */
    stand: (match) => match.takeBack.finalize(),
    /** True if no further turn of this cycle is to come, as far as seats in play go. */
    isLastOfCycle(match): boolean {
      const { seats, at, extra } = match.own.order
      return extra.length === 0 && !seats.slice(at).some((seat) => match.use(roster).isInPlay(seat))
    },
    /** Reverses the order of seats. */
    reverse: (match) => reverse(match),
    /**
     * Sets the order from the next cycle on, or of the first one. Seats that are not named keep their order after those
     * that are.
     */
    arrange(match, seats: readonly Seat[]) {
      const { order, now } = match.own
      if (now.cycle === 0 || now.finished) order.first = seats
      else order.base = withFirst(seats, order.base)
    },
    /** Stops turns, and nobody acts in them, until the same reason lets them go on. */
    hold: holdTurns,
    /** Lets turns go on that were held for this reason. */
    goOn: resumeTurns,
    /** True if turns are held for this reason. */
    isHeld: (match, why: string): boolean => match.own.now.held.has(why),
    /** Adds this many ms to the clock of this turn. */
    addTime(match, ms: number) {
      if (match.timers.runs('clock')) match.own.now.ends = match.timers.postpone('clock', ms)
    },
    /** Returns everybody else in play, in turn order from that seat on. */
    others: (match, seat: Seat): Seat[] => others(match, seat),
    /** Returns the seat in play after this one in turn order, or nothing if there is no other. */
    next: (match, seat: Seat): Seat | undefined => others(match, seat)[0],
    /** Returns the seat in play before this one in turn order, or nothing if there is no other. */
    previous: (match, seat: Seat): Seat | undefined => others(match, seat).at(-1),
    /** Ends turns for this round: no more turns begin. */
    finish(match, why: string) {
      match.own.now.ending = why
      match.own.now.finished = true
      match.timers.cancel('clock')
    },
  },
})
