import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
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
  endSeatPause(match)
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
  if (match.own.now.pauses.size > 0) match.own.now.pauses = new Map()
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
  endSeatPause(match)
  match.own.now.thaws = undefined
  match.own.now.paused = false
  match.own.now.frozen = false
  match.own.now.moves = true
  match.clocks.resume('phase')
  turnTo(match, 'over', why)
  const { linger } = match.settings
  match.own.now.next = ''
  if (linger === 0) return
  match.timers.start('linger', { in: linger })
  match.own.now.until = match.time.phase + linger
}

/** The countdown of the next bout begins, now or when this one's end has stayed long enough. */
export function again(match: Match, why: string) {
  if (match.timers.runs('linger')) match.own.now.next = why
  else countDown(match, why)
}

export function endLinger(match: Match) {
  match.own.now.until = undefined
  if (match.own.now.next !== '') countDown(match, match.own.now.next)
}

/** Stops every clock of play. */
export function pause(match: Match) {
  const { now } = match.own
  if (now.paused) return refuse('already-paused')
  if (now.phase === 'lobby' || now.phase === 'over') return refuse('nothing-to-pause')
  now.paused = true
  match.clocks.pause('phase', 'play', 'turn')
  match.emit('paused', { on: true })
  return undefined
}

/** A seat pauses the match for a while. */
export function takePause(match: Match, seat: Seat) {
  const { now } = match.own
  const { seatPauses, pauseFor } = match.settings
  const taken = now.pauses.get(seat) ?? 0
  if (taken >= seatPauses) return refuse('no-pause-left')
  const refusal = pause(match)
  if (refusal !== undefined) return refusal
  now.pauses = withEntry(now.pauses, seat, taken + 1)
  now.pausedBy = seat
  now.pausedUntil = match.time.match + pauseFor
  match.timers.start('pause-over', { in: pauseFor })
  return undefined
}

/** Starts the clocks again. */
export function resume(match: Match) {
  if (!match.own.now.paused) return refuse('not-paused')
  endSeatPause(match)
  match.own.now.paused = false
  match.clocks.resume('phase')
  runPlay(match)
  match.emit('paused', { on: false })
  return undefined
}

function endSeatPause(match: Match) {
  match.timers.cancel('pause-over')
  match.own.now.pausedBy = undefined
  match.own.now.pausedUntil = undefined
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
  if (ms === undefined) match.own.now.thaws = undefined
  else {
    match.timers.start('thaw', { in: ms })
    match.own.now.thaws = match.time.phase + ms
  }
  match.emit('frozen', { on: true, why })
}

export function thaw(match: Match) {
  if (!match.own.now.frozen) return
  match.timers.cancel('thaw')
  match.own.now.thaws = undefined
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
