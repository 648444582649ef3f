import { owner, type Seat, seatRef } from '../cells/index.ts'
import { declareRule, type MatchOf } from '../rule/index.ts'
import { fields, oneOf, orNull, setting, whole } from '../settings/index.ts'
import { minutes } from '../time/index.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'

/** Why a seat was sidelined or sent off. */
const IDLE = 'idle'

const shape = declareRule({
  name: 'idle',
  needs: [roster, phases],
  settings: fields({
    /** How long a seat may give no sign of life, in ms of play time. */
    after: setting(whole({ min: 1 }), minutes(1)),
    /** How long until it is warned, in ms of play time; null means never. */
    warnAfter: setting(orNull(whole({ min: 1 })), null),
    /** What happens then: it is absent, sidelined for the bout, played by a bot until it is back, or it leaves. */
    whenIdle: setting(oneOf('absent', 'sideline', 'bot', 'leave'), 'absent'),
  }),
  events: {
    /** A seat has given no sign of life for `warnAfter`. */
    warned: { seat: seatRef().seenBy(owner) },
  },
  timers: ['idle', 'warn'],
})
type Match = MatchOf<typeof shape>

const isWatched = (match: Match, seat: Seat): boolean =>
  match.use(roster).isInPlay(seat) && match.use(roster).isHere(seat) && !match.use(roster).isBot(seat)

function wait(match: Match, seat: Seat) {
  if (match.use(phases).phase() !== 'live' || !isWatched(match, seat)) return
  const { after, warnAfter } = match.settings
  match.timers.start('idle', { in: after, key: seat })
  if (warnAfter !== null && warnAfter < after) match.timers.start('warn', { in: warnAfter, key: seat })
}

function stop(match: Match, seat: Seat) {
  for (const timer of ['idle', 'warn'] as const) match.timers.cancel(timer, seat)
}

function act(match: Match, seat: Seat) {
  if (!isWatched(match, seat)) return
  stop(match, seat)
  const { whenIdle } = match.settings
  const seats = match.use(roster)
  if (whenIdle === 'absent') seats.markAbsent(seat)
  else if (whenIdle === 'sideline') seats.sideline(seat, IDLE)
  else if (whenIdle === 'bot') seats.cover(seat)
  else seats.sendOff(seat, IDLE)
}

/** Warns seats that give no sign of life in play, then marks them as absent, or whatever the mode says. Ignores bots. */
export const idle = shape.does({
  gates: {
    /** Every accepted action shows that the seat is there. */
    acts: {
      place: 'here',
      applies: 'always',
      check() {},
      accepted(match, { seat }) {
        if (seat !== undefined) wait(match, seat)
      },
    },
  },
  facts: {
    /** Reports a sign of life that is no action, such as steering in the game's own simulation. */
    seen: { input: { seat: seatRef() }, handle: (match, { seat }) => wait(match, seat) },
  },
  timers: {
    idle: act,
    warn(match, seat) {
      if (isWatched(match, seat)) match.emit('warned', { seat })
    },
  },
  on: {
    'phases.live-began'(match) {
      for (const seat of match.use(roster).inPlay()) wait(match, seat)
    },
    'roster.absent': (match, { seat }) => stop(match, seat),
    'roster.covered': (match, { seat }) => stop(match, seat),
    'roster.filled': (match, { seat }) => stop(match, seat),
    'roster.sidelined': (match, { seat }) => stop(match, seat),
    'roster.back-in': (match, { seat }) => wait(match, seat),
    'roster.joined': (match, { seat }) => wait(match, seat),
    'roster.returned': (match, { seat }) => wait(match, seat),
    'roster.came-back': (match, { seat }) => wait(match, seat),
    'roster.handed-over': (match, { seat }) => wait(match, seat),
  },
})
