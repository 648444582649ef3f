import {
  bySetting,
  everyone,
  flag,
  int,
  list,
  maybe,
  perSeat,
  seatRef,
  table,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, within, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'

const feed = bySetting('feedSeen')

export const shape = declareRule({
  name: 'credit',
  needs: [vitals, scores, roster],
  knows: [teams, rounds],
  settings: fields({
    /** Who is the killer: whoever struck last, or whichever foe did most damage within the window. */
    who: setting(oneOf('last-blow', 'most-damage'), 'last-blow'),
    /** How long a blow counts for shares and assists, in ms of play time. */
    assistWindow: setting(whole({ min: 0 }), seconds(10)),
    /** How long a blow or a push counts if the surroundings finish its target, in ms of play time. */
    pushWindow: setting(whole({ min: 0 }), seconds(5)),
    /** Who gets the credit for a down that the surroundings, or the seat itself, finished. */
    surroundings: setting(oneOf('last-foe', 'nobody'), 'last-foe'),
    /** Who gets the credit for a down that a seat caused itself. */
    selfDown: setting(oneOf('nobody', 'last-foe'), 'nobody'),
    /** The smallest share, in per cent, that counts as an assist. */
    assistAt: setting(whole({ min: 0, max: 100 }), 1),
    /** How many assists a down can give; null means no limit. */
    maxAssists: setting(orNull(whole({ min: 0 })), null),
    /** Whether every assist gives the same points, or points by its share. */
    assistBy: setting(oneOf('flat', 'share'), 'flat'),
    /** Points for a kill, for an assist, for one's own down by oneself, and for bringing a team-mate down. */
    points: within({
      kill: setting(whole(), 1),
      assist: setting(whole(), 0),
      self: setting(whole(), 0),
      /** For bringing a team-mate down. */
      team: setting(whole(), 0),
    }),
    /** How soon after a kill the next one is part of the same series, in ms of play time. */
    multiWindow: setting(whole({ min: 0 }), seconds(4)),
    /** From how many kills on everyone is notified of a streak and its end. */
    streakFrom: setting(whole({ min: 1 }), 3),
    /**
     * Who knows the killer and the helpers of a down, and how many a seat has brought down: everyone, the seat and its
     * side, the seat itself or nobody. Points are on the board all the same.
     */
    feedSeen: setting(oneOf('everyone', 'side', 'owner', 'nobody'), 'everyone'),
    /** If true, what shields absorbed counts for shares. */
    shieldCounts: setting(yesNo, true),
    /** Which marks a heal removes. */
    healErases: setting(oneOf('oldest', 'nothing', 'in-proportion'), 'oldest'),
    /** What happens to the credit of a seat that has left. */
    leaverCredit: setting(oneOf('keep', 'next', 'nobody'), 'keep'),
  }),
  state: {
    tally: perSeat({
      kills: int(0).seenBy(feed),
      assists: int(0).seenBy(feed),
      deaths: int(0).seenBy(everyone),
      streak: int(0).seenBy(feed),
      /** Kills in quick succession. */
      multi: int(0).seenBy(feed),
      /** Who brought it down last, until it takes revenge. */
      downedBy: maybe(seatRef()),
      /** The last kill, in play time. */
      killedAt: time(),
    }),
    /** What each foe did to a target in its present life; an amount of nothing is a push. */
    marks: table({ target: seatRef(), by: seatRef(), shield: int(0), health: int(0), at: int() })
      .indexedBy('target')
      .each('round'),
  },
  events: {
    /** `shares` are the parts of the foes in `sharers`, in per cent. */
    given: {
      seat: seatRef().seenBy(everyone),
      killer: maybe(seatRef()).seenBy(feed),
      kind: text().seenBy(everyone),
      assists: list(seatRef()).seenBy(feed),
      /** True if the killer had last been brought down by this seat. */
      revenge: flag().seenBy(feed),
      sharers: list(seatRef()),
      shares: list(int()),
    },
    /** A seat has brought down this many, and has not gone down meanwhile. Emitted from `streakFrom` on. */
    streak: { seat: seatRef().seenBy(feed), streak: int().seenBy(feed) },
    /** A streak of `streakFrom` or more has ended. */
    'streak-ended': { seat: seatRef().seenBy(feed), streak: int().seenBy(feed) },
  },
  /** If refused, the down stands and nobody is its killer. */
  drafts: {
    /** Decides who gets the credit for a down. */
    give: { seat: seatRef(), killer: seatRef(), kind: text() },
  },
})
export type Match = MatchOf<typeof shape>
