import { choice, everyone, flag, int, map, maybe, seatRef, single, text, time } from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, part, setting, whole } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { roster } from '../roster/roster.ts'

export const shape = declareRule({
  name: 'phases',
  needs: [roster],
  settings: fields({
    /** Time between the start and live play, in ms. */
    countdown: setting(whole({ min: 0 }), seconds(3)),
    /** Which share of the seats present must be ready for the match to start by itself. */
    readyShare: setting(part('positive'), 1),
    /** How long the end of a bout stays before the countdown of the next one may begin, in ms of match time. */
    linger: setting(whole({ min: 0 }), 0),
    /** How many pauses a seat may take in a bout. */
    seatPauses: setting(whole({ min: 0 }), 0),
    /** How long such a pause lasts at most, in ms. */
    pauseFor: setting(whole({ min: 1 }), seconds(60)),
  }),
  state: {
    now: single({
      phase: choice('lobby', 'countdown', 'live', 'break', 'over').seenBy(everyone),
      /** The end of the countdown, the break or the time that the end of a bout stays, on the phase clock. */
      until: time('phase').seenBy(everyone),
      bout: int(0).seenBy(everyone),
      paused: flag(false).seenBy(everyone),
      /** A halt of play that a rule asked for: nobody may act, or only move. */
      frozen: flag(false).seenBy(everyone),
      moves: flag(true).seenBy(everyone),
      /** The end of the freeze, on the phase clock; nothing if a rule ends it. */
      thaws: time('phase').seenBy(everyone),
      /** Which seat has paused the match, if one has, and until when in match time. */
      pausedBy: maybe(seatRef()).seenBy(everyone),
      pausedUntil: time('match').seenBy(everyone),
      /** Why the next bout is to begin once this one's end has stayed long enough. */
      next: text(''),
      /** How many pauses each seat has taken in this bout. */
      pauses: map(int()).seenBy(everyone),
    }).each('match'),
  },
  events: {
    /** The match goes from one phase to another. */
    changed: { from: text().seenBy(everyone), to: text().seenBy(everyone), why: text().seenBy(everyone) },
    /** Play of a bout begins. */
    'live-began': {},
    /** A break has ended, and play goes on. */
    'break-over': {},
    /** The match is paused or resumed. */
    paused: { on: flag().seenBy(everyone) },
    /** Play is frozen or thaws. */
    frozen: { on: flag().seenBy(everyone), why: text().seenBy(everyone) },
  },
  drafts: {
    /** The countdown is about to begin. Other rules may refuse. */
    start: { why: text() },
  },
  timers: ['countdown', 'stalled', 'break', 'thaw', 'pause-over', 'linger'],
})
export type Match = MatchOf<typeof shape>
