import { refuse } from '../../rule/index.ts'
import { evenOut, inPhase, type Phase } from '../gates.ts'
import { roster } from '../roster/roster.ts'
import {
  again,
  cancelCountdown,
  countDown,
  endLinger,
  enoughReady,
  finish,
  forgetGone,
  freeze,
  goLive,
  goOn,
  pause,
  rest,
  resume,
  takePause,
  thaw,
  tooFew,
  wrongPhase,
} from './going-on.ts'
import { shape } from './shape.ts'

/** Where a match stands: lobby, countdown, live, break or over; and whether it is paused. */
export const phases = shape.does({
  refusals: {
    'not-started': 'Play has not begun. Wait for the phase live.',
    'on-break': 'Play rests between two rounds. Wait for the next round.',
    over: 'The bout has its verdict. Wait for a rematch.',
    paused: 'The match is paused. Wait until it goes on.',
    frozen: 'Play is halted for a moment. Wait until it goes on.',
    'too-few': 'There are fewer seats here than needed. Wait for more to join or to be ready.',
    'already-starting': 'A countdown runs. Wait for it.',
    'already-started': 'The bout has begun. Wait for its verdict.',
    'already-paused': 'It is paused already. Resume it first, or leave it so.',
    'not-paused': 'It is not paused. Pause it first, or leave it so.',
    'nothing-to-pause': 'There is no clock to pause in this phase. Wait for the countdown.',
    'no-pause-left': 'This seat has no pause left in this bout. Play on, or ask the referee.',
    'not-now': 'The mode allows this at another time. Wait for it.',
  },
  gates: {
    among: {
      place: 'phase',
      check(match, { given }) {
        if (!given.includes(match.own.now.phase)) return wrongPhase(match.own.now.phase)
      },
    },
    /** For moves: like live, but also in a break, after the verdict, and in a freeze that lets seats move. */
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
  onVoid(match) {
    if (match.own.now.phase !== 'lobby' && match.own.now.phase !== 'over') finish(match, 'void')
  },
  apply: {
    start(match, { why }) {
      const { phase } = match.own.now
      if (phase !== 'lobby') return wrongPhase(phase)
      if (tooFew(match)) return refuse('too-few', { needed: match.seatLimits.min })
      return countDown(match, why)
    },
  },
  actions: {
    /** Pauses the match for `pauseFor`, as often as `seatPauses` allows. */
    'take-pause': {
      when: [inPhase('countdown', 'live', 'break'), evenOut],
      input: {},
      decide: (match, seat) => takePause(match, seat),
    },
    /** Ends one's own pause before its time. */
    'end-pause': {
      when: [inPhase('countdown', 'live', 'break'), evenOut],
      input: {},
      decide: (match, seat) => (match.own.now.pausedBy === seat ? resume(match) : refuse('not-paused')),
    },
  },
  directives: {
    /** Begins the countdown. Refuses with `too-few`. */
    start: { input: {}, handle: (match) => match.resolve('start', { why: 'ordered' }) },
    /** Ends the countdown. No seat is ready any more. */
    cancel: {
      input: {},
      handle(match) {
        const { phase } = match.own.now
        if (phase !== 'countdown') return phase === 'lobby' ? refuse('not-started') : wrongPhase(phase)
        // Seats that are still ready would start it again at once.
        match.use(roster).clearReady()
        return cancelCountdown(match, 'ordered')
      },
    },
    /** Ends the bout in any phase, without a winner. */
    abandon: {
      input: {},
      handle(match) {
        if (match.own.now.phase === 'over') return refuse('over')
        match.timers.cancel('countdown')
        match.timers.cancel('stalled')
        return finish(match, 'abandoned')
      },
    },
    /** Stops every clock of play until it is resumed. */
    pause: { input: {}, handle: (match) => pause(match) },
    /** Starts the clocks again, whoever has paused the match. */
    resume: { input: {}, handle: (match) => resume(match) },
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
    /** Fires in the same ms if the start failed and was undone: the match does not try again by itself. */
    stalled: {
      clock: 'phase',
      fire(match) {
        if (match.own.now.phase !== 'countdown') return
        match.use(roster).clearReady()
        cancelCountdown(match, 'fault')
      },
    },
    break: { clock: 'phase', band: 'outer', fire: (match) => goOn(match) },
    linger: { clock: 'phase', band: 'outer', fire: (match) => endLinger(match) },
    'pause-over': { clock: 'match', band: 'lapse', fire: (match) => resume(match) },
    thaw: { clock: 'phase', band: 'lapse', fire: (match) => thaw(match) },
  },
  on: {
    'roster.unready'(match) {
      if (match.own.now.phase === 'countdown') cancelCountdown(match, 'unready')
    },
  },
  settle: {
    wokenBy: ['now', 'roster.seats'],
    run(match) {
      // Before play, a seat that leaves keeps nothing. It is removed once all rules have handled its leaving.
      if (match.own.now.phase === 'lobby' || match.own.now.phase === 'countdown') forgetGone(match)
      if (match.own.now.phase === 'lobby' && enoughReady(match)) match.resolve('start', { why: 'ready' })
      if (match.own.now.phase === 'countdown' && tooFew(match)) cancelCountdown(match, 'too-few')
    },
  },
  calls: {
    /** Returns the current phase. */
    phase: (match): Phase => match.own.now.phase,
    /** Halts play for this many ms, or until it thaws. Clocks of play stand still, and nobody may act, or only move. */
    freeze,
    /** Goes from the countdown back to where it came from. */
    cancelStart(match, why: string) {
      if (match.own.now.phase === 'countdown') cancelCountdown(match, why)
    },
    /** Ends a freeze. */
    thaw: (match) => thaw(match),
    /** Begins a break of this many ms, after which play goes on. */
    rest: (match, ms: number, why: string) => rest(match, ms, why),
    /** Ends the bout. The verdict is another rule's. */
    finish: (match, why: string) => finish(match, why),
    /** Goes from over to the countdown of the next bout, once the end of this one has stayed for `linger`. */
    again: (match, why: string) => again(match, why),
  },
})
