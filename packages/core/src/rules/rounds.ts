import { z } from 'zod'
import { declareRule, type MatchOf, refuse } from '../match/index.ts'
import { everyone, flag, int, perSeat, single, text, time } from '../state/index.ts'
import { evenOut, inPhase } from './gates.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'

const shape = declareRule({
  name: 'rounds',
  needs: [phases, roster],
  settings: z.object({
    /** Ms of play time; null is without end. */
    length: z.int().min(1).nullable().default(null),
  }),
  state: {
    now: single({
      round: int(0).seenBy(everyone),
      /** The end of the round, on the play clock. */
      ends: time().seenBy(everyone),
    }),
    wishes: perSeat({ rematch: flag(false).seenBy(everyone) }),
  },
  events: {
    began: { round: int().seenBy(everyone) },
    extended: { by: int().seenBy(everyone) },
    ended: { round: int().seenBy(everyone), why: text().seenBy(everyone) },
  },
  timers: ['end'],
})
type Match = MatchOf<typeof shape>

function begin(match: Match) {
  match.begins('round')
  match.own.now.round += 1
  const { length } = match.settings
  if (length !== null) {
    match.timers.start('end', { in: length })
    match.own.now.ends = match.time.play + length
  }
  match.emit('began', { round: match.own.now.round })
}

/** One timed round and the wish for a rematch. */
export const rounds = shape.does({
  directives: {
    /** Puts the end off by so many ms, or forward when negative; what lies in the past ends the round at once. */
    extend: {
      input: { by: int() },
      obey(match, { by }) {
        if (match.use(phases).phase() === 'over') return refuse('round-over')
        if (!match.timers.runs('end')) return refuse('not-started')
        match.own.now.ends = match.timers.shift('end', by)
        match.emit('extended', { by })
      },
    },
  },
  actions: {
    rematch: {
      when: [inPhase('over'), evenOut],
      input: {},
      decide(match, seat) {
        if (match.use(roster).here().length < match.room.min)
          return refuse('too-few', { needed: match.room.min })
        match.own.wishes.of(seat).rematch = true
      },
    },
  },
  timers: {
    end: {
      band: 'outer',
      fire: (match) => match.emit('ended', { round: match.own.now.round, why: 'time-up' }),
    },
  },
  on: { 'phases.live-began': (match) => begin(match) },
  settle: {
    tier: 'round',
    wokenBy: ['wishes', 'roster.seats'],
    run(match) {
      const here = match.use(roster).here()
      const all = here.length >= match.room.min && here.every((seat) => match.own.wishes.of(seat).rematch)
      if (all && match.use(phases).phase() === 'over') match.use(phases).again('rematch')
    },
  },
})
