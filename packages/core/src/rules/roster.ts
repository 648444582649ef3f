import { z } from 'zod'
import { declareRule, isSpectator, type MatchOf, refuse } from '../match/index.ts'
import {
  choice,
  everyone,
  flag,
  int,
  owner,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  text,
} from '../state/index.ts'
import { seconds } from '../time/index.ts'
import { evenAbsent, evenOut, inPhase } from './gates.ts'

const MOST_NAME = 24
const MOST_SEAT_ID = 64

const shape = declareRule({
  name: 'roster',
  settings: z.object({
    /** How long (ms) an absent seat is kept before it leaves. */
    grace: z.int().min(0).default(seconds(60)),
    /** Whether who has left comes back to the same seat of the same bout, with all that it had. */
    comeback: z.enum(['same-seat', 'no']).default('same-seat'),
    /** For how long who was sent off may not come back. */
    barFor: z.enum(['match', 'bout', 'none']).default('match'),
    /** Who joins in play gets a seat, or is refused. */
    lateJoin: z.enum(['seat', 'refuse']).default('seat'),
    /** Whether a bot takes over the seat of who leaves in play, until its player joins again. */
    botsFill: z.boolean().default(false),
    /** What becomes of ready marks when a setting is changed. */
    readyAfterChange: z.enum(['clear', 'keep']).default('clear'),
  }),
  state: {
    seats: perSeat({
      number: int(0).seenBy(everyone),
      name: text('').seenBy(everyone),
      player: text(''),
      /** Whose seat a bot has taken over. */
      former: text(''),
      presence: choice('here', 'absent', 'gone').seenBy(everyone),
      ready: flag(false).seenBy(everyone),
      bot: flag(false).seenBy(everyone),
      /** Eliminated in this bout: still seated, no longer in play. */
      out: flag(false).seenBy(everyone),
    }).each('match'),
    now: single({ playing: flag(false), barred: set(text()) }).each('match'),
  },
  events: {
    joined: { seat: seatRef().seenBy(everyone) },
    'handed-over': { seat: seatRef().seenBy(everyone) },
    /** Who was ready is it no more. */
    unready: { seat: seatRef() },
    /** A bot has taken over for who has left. */
    filled: { seat: seatRef().seenBy(everyone) },
    /** Who had left is in its seat again. */
    'came-back': { seat: seatRef().seenBy(everyone) },
    /** Why is told to who was sent off. */
    kicked: { seat: seatRef().seenBy(owner), why: text().seenBy(owner) },
    returned: { seat: seatRef().seenBy(everyone) },
    absent: { seat: seatRef().seenBy(everyone) },
    left: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    out: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    'back-in': { seat: seatRef().seenBy(everyone) },
  },
  drafts: { join: { seat: text(), player: text(), name: text(), bot: flag() } },
  timers: ['grace'],
})
type Match = MatchOf<typeof shape>

/** Trimmed and composed (NFC); nothing where it is empty, too long or holds control characters. */
function cleanName(name: string): string | undefined {
  const clean = name.trim().normalize('NFC')
  return clean !== '' && [...clean].length <= MOST_NAME && !/\p{Cc}/u.test(clean) ? clean : undefined
}

/** Ids that views and hosts use otherwise, or that every object has, are taken. */
const taken: readonly string[] = ['', 'server', '__proto__', 'constructor', 'prototype']
const mayBeSeat = (seat: Seat): boolean =>
  !taken.includes(seat) && [...seat].length <= MOST_SEAT_ID && !isSpectator(seat)

const seatOf = (match: Match, player: string): Seat | undefined =>
  match.seating.all.find((seat) => {
    const row = match.own.seats.of(seat)
    return row.player === player || row.former === player
  })
const lowestBot = (match: Match): Seat | undefined => match.seats.find((seat) => match.own.seats.of(seat).bot)

function seatNew(
  match: Match,
  { seat, player, name, bot }: { seat: Seat; player: string; name: string; bot: boolean },
) {
  match.seating.add(seat)
  const row = match.own.seats.of(seat)
  row.number = match.seating.number(seat)
  row.player = player
  row.name = name
  row.bot = bot
  row.ready = bot
  match.emit('joined', { seat })
}

/** Only the player and the name change, so paths of views, feed and ledger stay. */
function handOver(match: Match, seat: Seat, player: string, name: string) {
  const row = match.own.seats.of(seat)
  row.player = player
  row.former = ''
  row.name = name
  row.bot = false
  row.ready = false
  match.emit('handed-over', { seat })
}

function comeBack(match: Match, seat: Seat) {
  match.own.seats.of(seat).presence = 'here'
  match.timers.cancel('grace', seat)
  match.emit('returned', { seat })
}

/** What it has stays with the seat; only who plays it changes. */
function fillWithBot(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  row.former = row.player
  row.player = ''
  row.bot = true
  row.presence = 'here'
  match.timers.cancel('grace', seat)
  match.emit('filled', { seat })
}

/** The row comes to life again as it was: nobody is better off for having left. */
function revive(match: Match, seat: Seat) {
  if (match.seats.length >= match.room.max) return refuse('match-full', { most: match.room.max })
  match.seating.revive(seat)
  match.own.seats.of(seat).presence = 'here'
  match.emit('came-back', { seat })
  return undefined
}

/** One who is known: here, away, gone, or with a bot in its seat. */
function rejoin(match: Match, seat: Seat, player: string, name: string) {
  if (match.own.seats.of(seat).former === player) return handOver(match, seat, player, name)
  if (!match.seating.isGone(seat)) return comeBack(match, seat)
  return match.settings.comeback === 'no' ? refuse('gone', { seat }) : revive(match, seat)
}

function leave(match: Match, seat: Seat, why: string) {
  const row = match.own.seats.of(seat)
  if (match.settings.botsFill && match.own.now.playing && !row.bot) return fillWithBot(match, seat)
  row.presence = 'gone'
  row.ready = false
  match.seating.retire(seat)
  match.emit('left', { seat, why })
}

function markAbsent(match: Match, seat: Seat) {
  const row = match.own.seats.of(seat)
  if (row.presence !== 'here') return
  row.presence = 'absent'
  row.ready = false
  match.timers.start('grace', { in: match.settings.grace, key: seat })
  match.emit('absent', { seat })
}

function clearReady(match: Match) {
  for (const seat of match.seats) match.own.seats.of(seat).ready = match.own.seats.of(seat).bot
}

function isInPlay(match: Match, seat: Seat): boolean {
  if (!match.seating.has(seat)) return false
  const { presence, out } = match.own.seats.of(seat)
  return presence !== 'gone' && !out
}

/** Seats people: joining, ready marks, absence with a grace time, leaving, being out. */
export const roster = shape.does({
  apply: {
    join(match, { seat, player, name, bot }) {
      if (!mayBeSeat(seat)) return refuse('bad-input', { issues: [`'${seat}' cannot be a seat's id`] })
      const clean = cleanName(name)
      if (clean === undefined) return refuse('bad-name', { name })
      if (match.own.now.barred.has(player)) return refuse('barred')
      const known = seatOf(match, player)
      if (known !== undefined) return rejoin(match, known, player, clean)
      if (match.settings.lateJoin === 'refuse' && match.own.now.playing) return refuse('late')
      if (match.seats.length >= match.room.max) {
        const bots = bot ? undefined : lowestBot(match)
        return bots === undefined
          ? refuse('match-full', { most: match.room.max })
          : handOver(match, bots, player, clean)
      }
      if (match.seating.has(seat)) return refuse('seat-taken', { seat })
      return seatNew(match, { seat, player, name: clean, bot })
    },
  },
  directives: {
    /** One who is here already gets the same seat again. In a full match the lowest bot's seat is handed over. Without `player`, the seat's id stands for it. */
    join: {
      input: { seat: text(), name: text(), player: text(''), bot: flag(false) },
      obey: (match, { player, ...asked }) =>
        match.resolve('join', { ...asked, player: player === '' ? asked.seat : player }),
    },
    kick: {
      input: { seat: seatRef(), why: text('kicked') },
      obey(match, { seat, why }, referee) {
        if (referee === seat)
          return refuse('bad-input', { issues: ["'seat' is the referee's own: leave instead"] })
        if (match.seating.isGone(seat)) return refuse('gone', { seat })
        const { now, seats } = match.own
        if (match.settings.barFor !== 'none') now.barred = new Set([...now.barred, seats.of(seat).player])
        match.emit('kicked', { seat, why })
        return leave(match, seat, 'kicked')
      },
    },
    /** The seat's connection was lost; it leaves when the grace is over. */
    absent: {
      input: { seat: seatRef() },
      obey(match, { seat }) {
        if (match.seating.isGone(seat)) return refuse('gone', { seat })
        return markAbsent(match, seat)
      },
    },
  },
  actions: {
    ready: {
      when: inPhase('lobby'),
      input: {},
      decide(match, seat) {
        match.own.seats.of(seat).ready = true
      },
    },
    unready: {
      when: inPhase('lobby', 'countdown'),
      input: {},
      decide(match, seat) {
        const row = match.own.seats.of(seat)
        if (row.ready) match.emit('unready', { seat })
        row.ready = false
      },
    },
    leave: {
      when: [inPhase('lobby', 'countdown', 'live', 'break', 'over'), evenOut],
      input: {},
      decide(match, seat) {
        leave(match, seat, 'left')
      },
    },
    /** Who was marked as away, and is not, says so. */
    return: {
      when: [inPhase('lobby', 'countdown', 'live', 'break', 'over'), evenOut, evenAbsent],
      input: {},
      decide(match, seat) {
        if (match.own.seats.of(seat).presence === 'absent') comeBack(match, seat)
      },
    },
  },
  changed(match) {
    if (match.settings.readyAfterChange === 'clear' && !match.own.now.playing) clearReady(match)
  },
  setUp(match) {
    if (match.settings.barFor === 'bout') match.own.now.barred = new Set()
    for (const seat of match.seats) match.own.seats.of(seat).out = false
  },
  timers: { grace: { clock: 'match', fire: (match, seat) => leave(match, seat, 'grace-over') } },
  gates: {
    here: {
      place: 'here',
      applies: 'unasked',
      check(match, { seat }) {
        if (seat !== undefined && match.own.seats.of(seat).presence === 'absent')
          return refuse('absent', { seat })
      },
    },
    in: {
      place: 'presence',
      applies: 'unasked',
      check(match, { seat }) {
        if (seat !== undefined && match.own.seats.of(seat).out) return refuse('out', { seat })
      },
    },
    'even-absent': { place: 'here', check() {} },
    'even-out': { place: 'presence', check() {} },
  },
  calls: {
    /** Connected seats, by seat number. */
    here: (match): readonly Seat[] =>
      match.seats.filter((seat) => match.own.seats.of(seat).presence === 'here'),
    /** Seats that take part: they have not left and are not out, by seat number. */
    inPlay: (match): readonly Seat[] => match.seats.filter((seat) => !match.own.seats.of(seat).out),
    isInPlay,
    isHere: (match, seat: Seat): boolean => match.own.seats.of(seat).presence === 'here',
    isReady: (match, seat: Seat): boolean => match.own.seats.of(seat).ready,
    isBot: (match, seat: Seat): boolean => match.own.seats.of(seat).bot,
    /** Every seat of this bout, those that have left it too. */
    all: (match): readonly Seat[] => match.seating.all,
    /** Removes the rows of a seat that has left. */
    forget(match, seat: Seat) {
      match.seating.remove(seat)
    },
    /** It takes no further part in this bout, and stays to watch. */
    putOut(match, seat: Seat, why: string) {
      if (!isInPlay(match, seat)) return
      match.own.seats.of(seat).out = true
      match.emit('out', { seat, why })
    },
    bringIn(match, seat: Seat) {
      if (match.seating.isGone(seat) || !match.own.seats.of(seat).out) return
      match.own.seats.of(seat).out = false
      match.emit('back-in', { seat })
    },
    clearReady,
    /** Its connection was lost, or nothing is heard of it: it leaves when the grace is over. */
    markAbsent,
    /** Whether a bout is played. */
    setPlaying(match, playing: boolean) {
      match.own.now.playing = playing
    },
  },
})
