import type { Seat } from '../../cells/index.ts'
import { type Reading, refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import type { Match } from './shape.ts'

/** What replaces a choice that was not made, and how choices are shown: as state, as notices, or not at all. */
export interface Reveal<V> {
  otherwise(match: Reading, seat: Seat): V | undefined
  readonly among: readonly V[] | undefined
  readonly shownBy: 'part' | 'notice' | undefined
}

/** Returns who is asked, by seat number. */
const asked = <N extends string, V>(match: Match<N, V>): Seat[] =>
  match.seating.all.filter((seat) => match.own.seats.of(seat).asked)

const isAwaited = <N extends string, V>(match: Match<N, V>, seat: Seat): boolean =>
  !match.own.seats.of(seat).chosen && (match.settings.awaitAbsent || match.use(roster).isHere(seat))

/** Opens the question for those of these seats that are in play. */
export function open<N extends string, V>(match: Match<N, V>, seats: readonly Seat[]) {
  const { question } = match.own
  if (question.open) return refuse('already-open')
  question.open = true
  question.number += 1
  for (const seat of match.seating.all) {
    const row = match.own.seats.of(seat)
    row.asked = seats.includes(seat) && match.use(roster).isInPlay(seat)
    row.chosen = false
    row.choice = undefined
    match.own.revealed.of(seat).choice = undefined
    match.own.last.of(seat).choice = undefined
  }
  if (match.settings.time !== null) {
    match.timers.start('end', { in: match.settings.time })
    question.until = match.time.play + match.settings.time
  }
  match.emit('opened', { asked: asked(match) })
  return undefined
}

/** Returns a choice that was made and is still legal, or what replaces it. */
function settled<N extends string, V>(match: Match<N, V>, seat: Seat, { otherwise, among }: Reveal<V>) {
  const { chosen, choice } = match.own.seats.of(seat)
  // Also draws for seats that have chosen, so that the next draw does not reveal who had not.
  const drawn =
    among === undefined ? match.reading((read) => otherwise(read, seat)) : match.chance('missing').pick(among)
  if (!chosen || choice === undefined) return drawn
  if (match.resolve('take', { seat, choice }).ok) return choice
  match.emit('no-longer-legal', { seat })
  return drawn
}

/** Closes the question and reveals all choices together, if they are revealed. */
export function close<N extends string, V>(match: Match<N, V>, reveal: Reveal<V>): void {
  const { question } = match.own
  if (!question.open) return
  question.open = false
  question.until = undefined
  match.timers.cancel('end')
  for (const seat of asked(match)) {
    const choice = settled(match, seat, reveal)
    match.own.seats.of(seat).choice = undefined
    match.own.last.of(seat).choice = choice
    if (reveal.shownBy === 'part') match.own.revealed.of(seat).choice = choice
    if (reveal.shownBy === 'notice') match.emit('choice-revealed', { seat, choice })
  }
  match.emit('revealed', { number: question.number })
}

/** Closes the question if nobody is awaited any more. */
export function closeWhenAll<N extends string, V>(match: Match<N, V>, reveal: Reveal<V>): void {
  if (!match.own.question.open) return
  const seats = asked(match)
  const isDone = match.settings.closeWhenAll && !seats.some((seat) => isAwaited(match, seat))
  if (seats.length === 0 || isDone) close(match, reveal)
}

/** The bout is over: nothing is revealed. */
export function drop<N extends string, V>(match: Match<N, V>): void {
  match.own.question.open = false
  match.own.question.until = undefined
  for (const seat of match.seating.all) {
    match.own.seats.of(seat).asked = false
    match.own.seats.of(seat).choice = undefined
  }
}

/** A seat has left play: it is no longer asked, unless its choice is kept. */
export function forget<N extends string, V>(match: Match<N, V>, seat: Seat): void {
  const row = match.own.seats.of(seat)
  if (row.chosen && match.settings.leaverChoice === 'keep') return
  row.asked = false
  row.choice = undefined
}

function refusalFor<N extends string, V>(match: Match<N, V>, seat: Seat) {
  const { asked: isAsked, chosen } = match.own.seats.of(seat)
  if (!match.own.question.open) return refuse('sealed-closed')
  if (!isAsked) return refuse('not-asked')
  return chosen && !match.settings.changes ? refuse('already-chosen') : undefined
}

/** Makes or changes a seat's choice. */
export function choose<N extends string, V>(match: Match<N, V>, seat: Seat, choice: V) {
  const refusal = refusalFor(match, seat)
  if (refusal !== undefined) return refusal
  const ruling = match.resolve('take', { seat, choice })
  if (!ruling.ok) return ruling
  const row = match.own.seats.of(seat)
  if (!row.chosen) match.emit('chosen', { seat })
  row.chosen = true
  row.choice = choice
  return undefined
}

/** Withdraws a seat's choice. */
export function unchoose<N extends string, V>(match: Match<N, V>, seat: Seat) {
  const refusal = refusalFor(match, seat)
  if (refusal !== undefined) return refusal
  const row = match.own.seats.of(seat)
  row.chosen = false
  row.choice = undefined
  return undefined
}
