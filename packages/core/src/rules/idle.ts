import type { Seat } from '../cells/index.ts'
import { declareRule, type MatchOf } from '../rule/index.ts'
import { fields, setting, whole } from '../settings/index.ts'
import { minutes } from '../time/index.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'

const shape = declareRule({
  name: 'idle',
  needs: [roster, phases],
  settings: fields({
    /** How long a seat may do nothing before it counts as absent, in ms of play time. Only accepted actions count. */
    after: setting(whole({ min: 1 }), minutes(1)),
  }),
  timers: ['idle'],
})
type Match = MatchOf<typeof shape>

const isWatched = (match: Match, seat: Seat): boolean =>
  match.use(roster).isInPlay(seat) && match.use(roster).isHere(seat) && !match.use(roster).isBot(seat)

function wait(match: Match, seat: Seat) {
  if (match.use(phases).phase() !== 'live' || !isWatched(match, seat)) return
  match.timers.start('idle', { in: match.settings.after, key: seat })
}

/** Marks seats as absent that do nothing for a while in play, until they say that they are back. Ignores bots. */
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
  timers: {
    idle(match, seat) {
      if (isWatched(match, seat)) match.use(roster).markAbsent(seat)
    },
  },
  on: {
    'phases.live-began'(match) {
      for (const seat of match.use(roster).inPlay()) wait(match, seat)
    },
    'roster.absent': (match, { seat }) => match.timers.cancel('idle', seat),
    'roster.covered': (match, { seat }) => match.timers.cancel('idle', seat),
    'roster.filled': (match, { seat }) => match.timers.cancel('idle', seat),
    'roster.sidelined': (match, { seat }) => match.timers.cancel('idle', seat),
    'roster.back-in': (match, { seat }) => wait(match, seat),
    'roster.joined': (match, { seat }) => wait(match, seat),
    'roster.returned': (match, { seat }) => wait(match, seat),
    'roster.came-back': (match, { seat }) => wait(match, seat),
    'roster.handed-over': (match, { seat }) => wait(match, seat),
  },
})
