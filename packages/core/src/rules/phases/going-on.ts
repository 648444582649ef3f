import { refuse } from '../../rule/index.ts'
import type { Phase } from '../gates.ts'
import { roster } from '../roster/roster.ts'
import type { Match } from './shape.ts'

function turnTo(match: Match, to: Phase, why: string) {
  const from = match.own.now.phase
  match.own.now.phase = to
  match.own.now.until = undefined
  match.use(roster).setPlaying(to === 'live' || to === 'break', to === 'live')
  match.emit('changed', { from, to, why })
}

export function countDown(match: Match, why: string) {
  turnTo(match, 'countdown', why)
  match.timers.start('countdown', { in: match.settings.countdown })
  match.timers.start('stalled', { in: match.settings.countdown })
  match.own.now.until = match.time.phase + match.settings.countdown
}

export function cancelCountdown(match: Match, why: string) {
  match.timers.cancel('countdown')
  match.timers.cancel('stalled')
  // No countdown is left to hold.
  match.own.now.paused = false
  match.clocks.resume('phase')
  turnTo(match, match.own.now.bout === 0 ? 'lobby' : 'over', why)
}

export function forgetGone(match: Match) {
  for (const seat of match.use(roster).all()) if (match.seating.isGone(seat)) match.use(roster).forget(seat)
}

/** No action or timer meets a match that is half set up: every rule is set up before live play begins. */
export function goLive(match: Match) {
  match.timers.cancel('stalled')
  forgetGone(match)
  match.use(roster).clearReady()
  match.beginSpan('bout')
  match.own.now.bout = match.bout
  turnTo(match, 'live', 'counted-down')
  match.clocks.resume('play', 'turn')
  match.use(roster).beginRound()
  match.emit('live-began', {})
}

/** Play and turn timers end with the bout. */
export function finish(match: Match, why: string) {
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
export function runPlay(match: Match) {
  const { phase, paused, frozen } = match.own.now
  if (phase !== 'live' || paused || frozen) return
  match.clocks.resume('play', 'turn')
}

export function freeze(match: Match, why: string, ms?: number, may: 'nothing' | 'move' = 'nothing') {
  const { phase } = match.own.now
  if (phase !== 'live' && phase !== 'break') return // there is no play to halt
  match.own.now.frozen = true
  match.own.now.moves = may === 'move'
  match.clocks.pause('play', 'turn')
  if (ms !== undefined) match.timers.start('thaw', { in: ms })
  match.emit('frozen', { on: true, why })
}

export function thaw(match: Match) {
  if (!match.own.now.frozen) return
  match.timers.cancel('thaw')
  match.own.now.frozen = false
  match.own.now.moves = true
  runPlay(match)
  match.emit('frozen', { on: false, why: '' })
}

/** Play stands still between two rounds. */
export function rest(match: Match, ms: number, why: string) {
  match.clocks.pause('play', 'turn')
  turnTo(match, 'break', why)
  match.timers.start('break', { in: ms })
  match.own.now.until = match.time.phase + ms
}

export function goOn(match: Match) {
  turnTo(match, 'live', 'break-over')
  runPlay(match)
  match.emit('break-over', {})
}

export const tooFew = (match: Match): boolean => match.use(roster).here().length < match.seatLimits.min

export function enoughReady(match: Match): boolean {
  const here = match.use(roster).here()
  const ready = here.filter((seat) => match.use(roster).isReady(seat)).length
  return ready >= Math.max(match.seatLimits.min, Math.ceil(match.settings.readyShare * here.length))
}

export function wrongPhase(phase: Phase) {
  if (phase === 'over') return refuse('over')
  if (phase === 'break') return refuse('on-break')
  return phase === 'live'
    ? refuse('already-started')
    : phase === 'countdown'
      ? refuse('already-starting')
      : refuse('not-started')
}
