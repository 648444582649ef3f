import { flag, type Seat, seatRef, text } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { evenAbsent, evenOut, inPhase } from '../gates.ts'
import {
  beginRound,
  cleanName,
  clearReady,
  comeBack,
  cover,
  handOver,
  isInPlay,
  isLate,
  leave,
  lowestBot,
  markAbsent,
  mayBeSeat,
  numbered,
  rejoin,
  seatNew,
  seatOf,
  sendOff,
  startsAfresh,
  unwatch,
  watch,
} from './joining-and-leaving.ts'
import { shape } from './shape.ts'

/** Manages seats: joining, ready marks, absence with a grace time, leaving, sidelining. */
export const roster = shape.does({
  refusals: {
    absent: 'The seat is marked as absent. Join again to come back to it.',
    sidelined: 'The seat is out of this bout. Watch until the next one.',
    'match-full': 'No seat is free. Wait for one, or watch.',
    'bad-name': 'The name is empty or too long. Give one of 1 to 24 characters.',
    barred: 'This player was sent off and may not come back. Ask the referee.',
    late: 'It is too late to join this bout. Wait for the next one.',
    seated: 'This player has a seat. Leave it first, then watch.',
    'not-watching': 'This player does not watch. Ask to watch first.',
    'seat-taken': 'Another player has this seat. Ask for another id.',
    'not-in-play': 'The target is not in play. Choose another.',
  },
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
        if (seat !== undefined && match.own.seats.of(seat).sidelined) return refuse('sidelined', { seat })
      },
    },
    'even-absent': { place: 'here', check() {} },
    'even-out': { place: 'presence', check() {} },
  },
  setUp(match) {
    match.own.now.began = 0
    if (match.settings.barFor === 'bout') match.own.now.barred = new Set()
    for (const seat of match.seating.all) {
      const row = match.own.seats.of(seat)
      row.sidelined = false
      row.waits = false
    }
  },
  apply: {
    join(match, { seat, player, name, bot }) {
      if (!mayBeSeat(seat)) return refuse('bad-input', { issues: [`'${seat}' cannot be a seat's id`] })
      const clean = cleanName(name) ?? numbered(match, name)
      if (clean === undefined) return refuse('bad-name', { name })
      if (match.own.now.barred.has(player)) return refuse('barred')
      const known = seatOf(match, player)
      if (known !== undefined && !startsAfresh(match, known)) return rejoin(match, known, player, clean)
      if (isLate(match) && match.settings.lateJoin === 'refuse') return refuse('late')
      if (match.seats.length >= match.seatLimits.max) {
        const bots = bot ? undefined : lowestBot(match)
        if (bots !== undefined) return handOver(match, bots, player, clean)
        return match.settings.whenFull === 'watch' && !bot
          ? watch(match, player, clean)
          : refuse('match-full', { most: match.seatLimits.max })
      }
      if (match.seating.has(seat)) return refuse('seat-taken', { seat })
      return seatNew(match, { seat, player, name: clean, bot })
    },
  },
  actions: {
    /** Marks the seat as ready to start. */
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
    /** Leaves the match. */
    leave: {
      neverLimited: true,
      when: [inPhase('lobby', 'countdown', 'live', 'break', 'over'), evenOut],
      input: {},
      decide(match, seat) {
        leave(match, seat, 'left')
      },
    },
    /** A seat that was marked as absent says that it is there. */
    return: {
      when: [inPhase('lobby', 'countdown', 'live', 'break', 'over'), evenOut, evenAbsent],
      input: {},
      decide(match, seat) {
        comeBack(match, seat)
      },
    },
  },
  directives: {
    /**
     * Seats a player. A player who is already here gets the same seat again. In a full match the newcomer gets the
     * lowest bot's seat. Default of `player`: the seat's id.
     */
    join: {
      input: { seat: text(), name: text(), player: text(''), bot: flag(false) },
      handle: (match, { player, ...asked }) =>
        match.resolve('join', { ...asked, player: player === '' ? asked.seat : player }),
    },
    /** Puts a player among those who watch. It has no seat, but rules know it: a ballot can count its vote. */
    watch: {
      input: { player: text(), name: text() },
      handle(match, { player, name }) {
        const clean = cleanName(name) ?? numbered(match, name)
        if (clean === undefined) return refuse('bad-name', { name })
        if (match.own.now.barred.has(player)) return refuse('barred')
        const seat = seatOf(match, player)
        if (seat !== undefined && !match.seating.isGone(seat)) return refuse('seated', { seat })
        return watch(match, player, clean)
      },
    },
    /** A player no longer watches. */
    unwatch: {
      input: { player: text() },
      handle: (match, { player }) => (unwatch(match, player) ? undefined : refuse('not-watching')),
    },
    /** Sends a seat off. It can't come back while it is barred. */
    kick: {
      input: { seat: seatRef(), why: text('kicked') },
      handle(match, { seat, why }, referee) {
        if (referee === seat)
          return refuse('bad-input', { issues: ["'seat' is the referee's own: leave instead"] })
        if (match.seating.isGone(seat)) return refuse('left', { seat })
        return sendOff(match, seat, why, match.settings.barFor !== 'none', 'kicked')
      },
    },
    /** The seat's connection was lost. It leaves when the grace is over. */
    absent: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        if (match.seating.isGone(seat)) return refuse('left', { seat })
        return markAbsent(match, seat)
      },
    },
  },
  timers: { grace: { clock: 'match', fire: (match, seat) => leave(match, seat, 'grace-over') } },
  /** A change in the lobby, of any rule's settings, clears ready marks if `readyAfterChange` says so. */
  changed(match) {
    if (match.settings.readyAfterChange === 'clear' && !match.own.now.playing) clearReady(match)
  },
  calls: {
    /** Connected seats, by seat number. */
    here: (match): readonly Seat[] =>
      match.seats.filter((seat) => match.own.seats.of(seat).presence === 'here'),
    /** Seats in play: they have neither left nor been sidelined, by seat number. */
    inPlay: (match): readonly Seat[] => match.seats.filter((seat) => !match.own.seats.of(seat).sidelined),
    /** True if the seat has neither left nor been sidelined. */
    isInPlay,
    /** True if the seat is connected. */
    isHere: (match, seat: Seat): boolean => match.own.seats.of(seat).presence === 'here',
    /** True if a player watches without a seat. */
    isWatching: (match, player: string): boolean => match.own.watchers.where({ player }).length > 0,
    /** True if the seat is ready to start. */
    isReady: (match, seat: Seat): boolean => match.own.seats.of(seat).ready,
    /** True if a bot plays the seat. */
    isBot: (match, seat: Seat): boolean => match.own.seats.of(seat).bot,
    /** Every seat of this bout, including those that have left it. */
    all: (match): readonly Seat[] => match.seating.all,
    /** Removes the rows of a seat that has left. */
    forget(match, seat: Seat) {
      match.seating.remove(seat)
    },
    /** Takes a seat out of play for this bout. It stays and watches. */
    sideline(match, seat: Seat, why: string) {
      if (!isInPlay(match, seat)) return
      match.own.seats.of(seat).sidelined = true
      match.emit('sidelined', { seat, why })
    },
    /** Sends a seat off: it leaves, and everyone is shown why. With `bar`, its player may not come back for `barFor`. */
    sendOff(match, seat: Seat, why: string, bar = false) {
      if (!match.seating.isGone(seat)) sendOff(match, seat, why, bar && match.settings.barFor !== 'none', why)
    },
    /** Lets a bot play for a seat until it sends `roster.return` or joins again. */
    cover(match, seat: Seat) {
      const { presence, covered, bot } = match.own.seats.of(seat)
      if (presence === 'here' && !covered && !bot) cover(match, seat)
    },
    /** Brings a sidelined seat back into play. */
    bringIn(match, seat: Seat) {
      if (match.seating.isGone(seat) || !match.own.seats.of(seat).sidelined) return
      match.own.seats.of(seat).sidelined = false
      match.emit('back-in', { seat })
    },
    /** Clears all ready marks. */
    clearReady,
    /** Marks a seat as absent: its connection was lost, or it has not answered. It leaves when the grace is over. */
    markAbsent,
    /** Says whether a bout is being played, and whether it is live. Bots fill and cover seats only during play. */
    setPlaying(match, playing: boolean, live: boolean) {
      match.own.now.playing = playing
      match.own.now.live = live
    },
    /** Says that a round begins, and brings in those who joined too late for the one before. */
    beginRound,
  },
})
