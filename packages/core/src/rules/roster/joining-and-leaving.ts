import type { Seat } from '../../cells/index.ts'
import { isFormer } from '../../engine/index.ts'
import { withItem } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { isSpectator } from '../../views/index.ts'
import type { Match } from './shape.ts'

/** Why a seat watches that has joined late. */
export const LATE = 'late'
const MAX_NAME = 24
const MAX_SEAT_ID = 64

/** Trimmed and composed (NFC). Returns nothing if it is empty, too long or has control characters. */
export function cleanName(name: string): string | undefined {
  const clean = name.trim().normalize('NFC')
  return clean !== '' && [...clean].length <= MAX_NAME && !/\p{Cc}/u.test(clean) ? clean : undefined
}

/** Returns the lowest free name with a number, for a player who gives none, if the mode has such names. */
export function numbered(match: Match, name: string): string | undefined {
  const { nameless } = match.settings
  if (nameless === null || name.trim() !== '') return undefined
  const used = new Set(match.seating.all.map((seat) => match.own.seats.of(seat).name))
  for (let n = 1; ; n++) if (!used.has(`${nameless} ${n}`)) return `${nameless} ${n}`
}

/** Ids that views and hosts use for something else, or that every object has, are taken. */
const taken: readonly string[] = ['', 'server', '__proto__', 'constructor', 'prototype']
export const mayBeSeat = (seat: Seat): boolean =>
  !taken.includes(seat) && [...seat].length <= MAX_SEAT_ID && !isSpectator(seat) && !isFormer(seat)

export const seatOf = (match: Match, player: string): Seat | undefined =>
  match.seating.all.find((seat) => {
    const row = match.own.seats.of(seat)
    return row.player === player || row.former === player
  })
export const lowestBot = (match: Match): Seat | undefined =>
  match.seats.find((seat) => match.own.seats.of(seat).bot && !match.own.seats.of(seat).covered)

export function seatNew(
  match: Match,
  { seat, player, name, bot }: { seat: Seat; player: string; name: string; bot: boolean },
) {
  unwatch(match, player)
  match.seating.add(seat)
  const row = match.own.seats.of(seat)
  row.number = match.seating.number(seat)
  row.player = player
  row.name = name
  row.bot = bot
  row.ready = bot
  // Whoever joins late watches until the next round or the next bout.
  const { lateJoin } = match.settings
  row.sidelined = isLate(match) && !bot && lateJoin !== 'seat'
  row.waits = row.sidelined && lateJoin === 'next-round'
  match.emit('joined', { seat })
  if (row.sidelined) match.emit('sidelined', { seat, why: LATE })
}

/** True if play has gone on too long to join it. In a break a player is in time for the next round. */
export function isLate({ own: { now }, settings: { lateJoin, lateWindow }, time }: Match): boolean {
  if (!now.playing || (!now.live && lateJoin === 'next-round')) return false
  return !now.live || time.play - now.began >= lateWindow
}

/** A round begins: those who wait for it are in play. */
export function beginRound(match: Match) {
  match.own.now.began = match.time.play
  for (const seat of match.seats) {
    const row = match.own.seats.of(seat)
    if (!row.waits) continue
    row.waits = false
    row.sidelined = false
    match.emit('back-in', { seat })
  }
}

/** Only the player and the name change, so paths in views, feed and ledger stay. */
export function handOver(match: Match, seat: Seat, player: string, name: string) {
  unwatch(match, player)
  const row = match.own.seats.of(seat)
  if (row.former !== player) match.seating.handOver(seat)
  row.player = player
  row.former = ''
  row.name = name
  row.bot = false
  row.ready = false
  match.emit('handed-over', { seat })
}

/** A seat that is here already stays as it is. */
export function comeBack(match: Match, seat: Seat) {
  const { presence, covered } = match.own.seats.of(seat)
  if (presence !== 'absent' && !covered) return
  uncover(match, seat)
  match.own.seats.of(seat).presence = 'here'
  match.timers.cancel('grace', seat)
  match.emit('returned', { seat })
}

/** A bot plays for the seat until it is back. */
export function cover(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  row.bot = true
  row.covered = true
  match.emit('covered', { seat })
}

function uncover(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  if (!row.covered) return
  row.bot = false
  row.covered = false
}

/** What it has stays with the seat. Only who plays it changes. */
function fillWithBot(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  row.former = row.player
  row.player = ''
  row.bot = true
  row.presence = 'here'
  match.timers.cancel('grace', seat)
  match.emit('filled', { seat })
}

/** The row comes back as it was: nobody is better off for having left. */
function revive(match: Match, seat: Seat) {
  if (match.seats.length >= match.seatLimits.max) return refuse('match-full', { most: match.seatLimits.max })
  match.seating.markHere(seat)
  match.own.seats.of(seat).presence = 'here'
  match.emit('came-back', { seat })
  return undefined
}

/** True if a player who comes back gets a new seat. The seat that it had is nobody's from then on. */
export function startsAfresh(match: Match, seat: Seat): boolean {
  if (match.settings.comeback !== 'new-seat' || !match.seating.isGone(seat)) return false
  match.own.seats.of(seat).player = ''
  return true
}

export function watch(match: Match, player: string, name: string) {
  const [known] = match.own.watchers.where({ player })
  if (known !== undefined) known.name = name
  else match.own.watchers.add({ player, name })
  match.emit('watching', { player, name })
  return undefined
}

/** Returns true if the player was among those who watch. */
export function unwatch(match: Match, player: string): boolean {
  const known = match.own.watchers.where({ player })
  for (const { id } of known) match.own.watchers.remove(id)
  return known.length > 0
}

/** A player who is known: here, absent, gone, or with a bot in the seat. */
export function rejoin(match: Match, seat: Seat, player: string, name: string) {
  if (match.own.seats.of(seat).former === player) return handOver(match, seat, player, name)
  if (!match.seating.isGone(seat)) return comeBack(match, seat)
  return match.settings.comeback === 'no' ? refuse('left', { seat }) : revive(match, seat)
}

export function leave(match: Match, seat: Seat, why: string) {
  uncover(match, seat)
  const row = match.own.seats.of(seat)
  if (match.settings.botsFill && match.own.now.playing && !row.bot) return fillWithBot(match, seat)
  row.presence = 'left'
  row.ready = false
  match.seating.markGone(seat)
  match.emit('left', { seat, why })
}

/** Sends a seat off, and tells it why. Everyone is shown `shown` as the reason. Its player may not come back if it is barred. */
export function sendOff(match: Match, seat: Seat, why: string, bar: boolean, shown: string) {
  const { now, seats } = match.own
  if (bar) now.barred = withItem(now.barred, seats.of(seat).player)
  match.emit('kicked', { seat, why })
  leave(match, seat, shown)
}

export function markAbsent(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  if (row.presence !== 'here' || row.covered) return
  match.timers.start('grace', { in: match.settings.grace, key: seat })
  if (match.settings.botsCover && match.own.now.playing && !row.bot) return cover(match, seat)
  row.presence = 'absent'
  row.ready = false
  match.emit('absent', { seat })
}

export function clearReady(match: Match) {
  for (const seat of match.seats) match.own.seats.of(seat).ready = match.own.seats.of(seat).bot
}

export function isInPlay(match: Match, seat: Seat): boolean {
  if (!match.seating.has(seat)) return false
  const { presence, sidelined } = match.own.seats.of(seat)
  return presence !== 'left' && !sidelined
}
