import { everyone, flag, int, list, maybe, perSeat, seatRef, table, text, time } from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, within, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'

export const shape = declareRule({
  name: 'credit',
  needs: [vitals, scores, roster],
  knows: [teams, rounds],
  settings: fields({
    /** Who is the killer: who struck last, or who of the foes took most in the window. */
    who: setting(oneOf('last-blow', 'most-damage'), 'last-blow'),
    /** How long (ms of play time) a blow counts for shares and assists. */
    assistWindow: setting(whole({ min: 0 }), seconds(10)),
    /** How long a blow or a push counts when the surroundings finish its target. */
    pushWindow: setting(whole({ min: 0 }), seconds(5)),
    /** Who gets a down that the surroundings, or the seat itself, have finished. */
    surroundings: setting(oneOf('last-foe', 'nobody'), 'last-foe'),
    /** Who gets a down that a seat has caused itself. */
    selfDown: setting(oneOf('nobody', 'last-foe'), 'nobody'),
    /** The least share, in per cent, that is an assist; and how many there are at most. */
    assistAt: setting(whole({ min: 0, max: 100 }), 1),
    /** How many assists a down gives at most; null is without limit. */
    maxAssists: setting(orNull(whole({ min: 0 })), null),
    /** Whether each assist gives the same points, or its share of them. */
    assistBy: setting(oneOf('flat', 'share'), 'flat'),
    /** Points for a kill, for an assist, for a down by oneself, and for bringing a team-mate down. */
    points: within({
      kill: setting(whole(), 1),
      assist: setting(whole(), 0),
      self: setting(whole(), 0),
      /** For bringing a team-mate down. */
      team: setting(whole(), 0),
    }),
    /** How long (ms of play time) after a kill the next one is part of the same series. */
    multiWindow: setting(whole({ min: 0 }), seconds(4)),
    /** Whether what shields took counts for shares. */
    shieldCounts: setting(yesNo, true),
    /** Which marks a heal takes away. */
    healErases: setting(oneOf('oldest', 'nothing', 'in-proportion'), 'oldest'),
    /** What becomes of the credit of a seat that has left. */
    leaverCredit: setting(oneOf('keep', 'next', 'nobody'), 'keep'),
  }),
  state: {
    tally: perSeat({
      kills: int(0).seenBy(everyone),
      assists: int(0).seenBy(everyone),
      deaths: int(0).seenBy(everyone),
      streak: int(0).seenBy(everyone),
      /** Kills in quick succession. */
      multi: int(0).seenBy(everyone),
      /** Who brought it down last, until it has taken revenge. */
      downedBy: maybe(seatRef()),
      /** The last kill, play time. */
      killedAt: time(),
    }),
    /** What each foe did to a target in its present life; nothing at all for a push. */
    marks: table({ target: seatRef(), by: seatRef(), shield: int(0), health: int(0), at: int() })
      .indexedBy('target')
      .each('round'),
  },
  events: {
    /** `shares` are the parts, in per cent, of the foes in `sharers`. */
    given: {
      seat: seatRef().seenBy(everyone),
      killer: maybe(seatRef()).seenBy(everyone),
      kind: text().seenBy(everyone),
      assists: list(seatRef()).seenBy(everyone),
      /** Whether the killer had been brought down by this seat last. */
      revenge: flag().seenBy(everyone),
      sharers: list(seatRef()),
      shares: list(int()),
    },
    /** A streak of three or more is over. */
    'streak-ended': { seat: seatRef().seenBy(everyone), streak: int().seenBy(everyone) },
  },
  /** Refused, the down stands and nobody is its killer. */
  drafts: {
    /** Who is to get the credit for a down. */
    give: { seat: seatRef(), killer: seatRef(), kind: text() },
  },
})
export type Match = MatchOf<typeof shape>
