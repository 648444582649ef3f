import { z } from 'zod'
import { choice, everyone, flag, int, single, text, time } from '../cells/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { seconds } from '../time/index.ts'
import type { Phase } from './gates.ts'
import { roster } from './roster/roster.ts'

const shape = declareRule({
  name: 'phases',
  needs: [roster],
  settings: z.object({
    /** Ms between the start and live play. */
    countdown: z.int().min(0).default(seconds(3)),
    /** The part of those here that must be ready for the match to start by itself. */
    readyShare: z.number().gt(0).max(1).default(1),
  }),
  state: {
    now: single({
      phase: choice('lobby', 'countdown', 'live', 'break', 'over').seenBy(everyone),
      /** The end of the countdown or of the break, on the phase clock. */
      until: time().seenBy(everyone),
      bout: int(0).seenBy(everyone),
      paused: flag(false).seenBy(everyone),
      /** A halt of play that a rule has asked for: nobody may act, or at most move. */
      frozen: flag(false).seenBy(everyone),
      moves: flag(true).seenBy(everyone),
    }).each('match'),
  },
  events: {
    changed: { from: text().seenBy(everyone), to: text().seenBy(everyone), why: text().seenBy(everyone) },
    'live-began': {},
    'break-over': {},
    paused: { on: flag().seenBy(everyone) },
    frozen: { on: flag().seenBy(everyone), why: text().seenBy(everyone) },
  },
  drafts: { start: { why: text() } },
  timers: ['countdown', 'stalled', 'break', 'thaw'],
})
type Match = MatchOf<typeof shape>

function turnTo(match: Match, to: Phase, why: string) {
  const from = match.own.now.phase
  match.own.now.phase = to
  match.own.now.until = undefined
  match.use(roster).setPlaying(to === 'live' || to === 'break')
  match.emit('changed', { from, to, why })
}

function countDown(match: Match, why: string) {
  turnTo(match, 'countdown', why)
  match.timers.start('countdown', { in: match.settings.countdown })
  match.timers.start('stalled', { in: match.settings.countdown })
  match.own.now.until = match.time.phase + match.settings.countdown
}

function cancelCountdown(match: Match, why: string) {
  match.timers.cancel('countdown')
  match.timers.cancel('stalled')
  // There is nothing left to hold.
  match.own.now.paused = false
  match.clocks.resume('phase')
  turnTo(match, match.own.now.bout === 0 ? 'lobby' : 'over', why)
}

function forgetGone(match: Match) {
  for (const seat of match.use(roster).all()) if (match.seating.isGone(seat)) match.use(roster).forget(seat)
}

/** No action or timer meets a half set-up match: every rule is set up before live play begins. */
function goLive(match: Match) {
  match.timers.cancel('stalled')
  forgetGone(match)
  match.use(roster).clearReady()
  match.beginSpan('bout')
  match.own.now.bout = match.bout
  turnTo(match, 'live', 'counted-down')
  match.clocks.resume('play', 'turn')
  match.emit('live-began', {})
}

/** Play and turn timers end with the bout. */
function finish(match: Match, why: string) {
  for (const clock of ['play', 'turn'] as const) {
    match.clocks.pause(clock)
    match.clocks.clear(clock)
  }
  match.timers.cancel('break')
  match.timers.cancel('thaw')
  match.own.now.paused = false
  match.own.now.frozen = false
  match.own.now.moves = true
  match.clocks.resume('phase')
  turnTo(match, 'over', why)
}

/** Play runs in live play that is neither paused nor frozen. */
function runPlay(match: Match) {
  const { phase, paused, frozen } = match.own.now
  if (phase !== 'live' || paused || frozen) return
  match.clocks.resume('play', 'turn')
}

function freeze(match: Match, why: string, ms?: number, may: 'nothing' | 'move' = 'nothing') {
  const { phase } = match.own.now
  if (phase !== 'live' && phase !== 'break') return // there is no play to halt
  match.own.now.frozen = true
  match.own.now.moves = may === 'move'
  match.clocks.pause('play', 'turn')
  if (ms !== undefined) match.timers.start('thaw', { in: ms })
  match.emit('frozen', { on: true, why })
}

function thaw(match: Match) {
  if (!match.own.now.frozen) return
  match.timers.cancel('thaw')
  match.own.now.frozen = false
  match.own.now.moves = true
  runPlay(match)
  match.emit('frozen', { on: false, why: '' })
}

/** Play stands still between two rounds. */
function rest(match: Match, ms: number, why: string) {
  match.clocks.pause('play', 'turn')
  turnTo(match, 'break', why)
  match.timers.start('break', { in: ms })
  match.own.now.until = match.time.phase + ms
}

function goOn(match: Match) {
  turnTo(match, 'live', 'break-over')
  runPlay(match)
  match.emit('break-over', {})
}

const tooFew = (match: Match): boolean => match.use(roster).here().length < match.seatLimits.min

function enoughReady(match: Match): boolean {
  const here = match.use(roster).here()
  const ready = here.filter((seat) => match.use(roster).isReady(seat)).length
  return ready >= Math.max(match.seatLimits.min, Math.ceil(match.settings.readyShare * here.length))
}

function wrongPhase(phase: Phase) {
  if (phase === 'over') return refuse('over')
  if (phase === 'break') return refuse('on-break')
  return phase === 'live'
    ? refuse('already-started')
    : phase === 'countdown'
      ? refuse('already-starting')
      : refuse('not-started')
}

/** Where a match stands: lobby, countdown, live, break, over; and whether it is paused. */
export const phases = shape.does({
  apply: {
    start(match, { why }) {
      const { phase } = match.own.now
      if (phase !== 'lobby') return wrongPhase(phase)
      if (tooFew(match)) return refuse('too-few', { needed: match.seatLimits.min })
      return countDown(match, why)
    },
  },
  directives: {
    start: { input: {}, handle: (match) => match.resolve('start', { why: 'ordered' }) },
    /** Ends the countdown; nobody is ready any more. */
    cancel: {
      input: {},
      handle(match) {
        const { phase } = match.own.now
        if (phase !== 'countdown') return phase === 'lobby' ? refuse('not-started') : wrongPhase(phase)
        // Who is ready would start it again at once.
        match.use(roster).clearReady()
        return cancelCountdown(match, 'ordered')
      },
    },
    /** Ends the bout, whatever its phase, without a winner. */
    abandon: {
      input: {},
      handle(match) {
        if (match.own.now.phase === 'over') return refuse('over')
        match.timers.cancel('countdown')
        match.timers.cancel('stalled')
        return finish(match, 'abandoned')
      },
    },
    pause: {
      input: {},
      handle(match) {
        if (match.own.now.paused) return refuse('already-paused')
        if (match.own.now.phase === 'lobby' || match.own.now.phase === 'over')
          return refuse('nothing-to-pause')
        match.own.now.paused = true
        match.clocks.pause('phase', 'play', 'turn')
        match.emit('paused', { on: true })
      },
    },
    resume: {
      input: {},
      handle(match) {
        if (!match.own.now.paused) return refuse('not-paused')
        match.own.now.paused = false
        match.clocks.resume('phase')
        runPlay(match)
        match.emit('paused', { on: false })
      },
    },
  },
  timers: {
    countdown: {
      clock: 'phase',
      band: 'outer',
      fire(match) {
        if (tooFew(match)) cancelCountdown(match, 'too-few')
        else goLive(match)
      },
    },
    /** Fires at the same ms when the start has failed, and was taken back whole: it is not tried again by itself. */
    stalled: {
      clock: 'phase',
      fire(match) {
        if (match.own.now.phase !== 'countdown') return
        match.use(roster).clearReady()
        cancelCountdown(match, 'fault')
      },
    },
    break: { clock: 'phase', band: 'outer', fire: (match) => goOn(match) },
    thaw: { clock: 'phase', band: 'lapse', fire: (match) => thaw(match) },
  },
  on: {
    'roster.unready'(match) {
      if (match.own.now.phase === 'countdown') cancelCountdown(match, 'unready')
    },
  },
  gates: {
    among: {
      place: 'phase',
      check(match, { given }) {
        if (!given.includes(match.own.now.phase)) return wrongPhase(match.own.now.phase)
      },
    },
    /** For moves: as live, but in a break and after the verdict too, and in a freeze that lets seats move. */
    moving: {
      place: 'phase',
      check(match) {
        const { phase, paused, frozen, moves } = match.own.now
        if (phase === 'lobby' || phase === 'countdown') return refuse('not-started')
        if (paused) return refuse('paused')
        if (frozen && !moves) return refuse('frozen')
      },
    },
    'even-frozen': {
      place: 'phase',
      check(match) {
        const { phase, paused } = match.own.now
        if (phase !== 'live' && phase !== 'break')
          return phase === 'over' ? refuse('over') : refuse('not-started')
        if (paused) return refuse('paused')
      },
    },
    live: {
      place: 'phase',
      applies: 'unasked',
      check(match) {
        const { phase, paused, frozen } = match.own.now
        if (phase === 'break') return refuse('on-break')
        if (phase !== 'live') return phase === 'over' ? refuse('over') : refuse('not-started')
        if (paused) return refuse('paused')
        if (frozen) return refuse('frozen')
      },
    },
  },
  settle: {
    wokenBy: ['now', 'roster.seats'],
    run(match) {
      // Before play nothing of a seat that leaves is kept; it goes when all have heard of its leaving.
      if (match.own.now.phase === 'lobby' || match.own.now.phase === 'countdown') forgetGone(match)
      if (match.own.now.phase === 'lobby' && enoughReady(match)) match.resolve('start', { why: 'ready' })
      if (match.own.now.phase === 'countdown' && tooFew(match)) cancelCountdown(match, 'too-few')
    },
  },
  calls: {
    phase: (match): Phase => match.own.now.phase,
    /** Halts play for this many ms, or until it thaws. Clocks of play stand still, and nobody may act, or at most move. */
    freeze,
    /** From the countdown back to where it came from. */
    cancelStart(match, why: string) {
      if (match.own.now.phase === 'countdown') cancelCountdown(match, why)
    },
    thaw: (match) => thaw(match),
    /** A break of this many ms, after which play goes on. */
    rest: (match, ms: number, why: string) => rest(match, ms, why),
    /** Ends the bout; the verdict is another rule's. */
    finish: (match, why: string) => finish(match, why),
    /** From over to the next bout's countdown. */
    again: (match, why: string) => countDown(match, why),
  },
})
