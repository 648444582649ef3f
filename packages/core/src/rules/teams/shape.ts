import { everyone, flag, int, list, maybe, perSeat, seatRef, single } from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, listOf, oneOf, part, setting, whole } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { vitals } from '../vitals/vitals.ts'

/** The cause of a down by changing teams. */
export const SWITCHED = 'switched'

export const shape = declareRule({
  name: 'teams',
  needs: [roster, phases],
  knows: [rounds, scores, vitals],
  settings: fields({
    /** Number of teams. */
    count: setting(whole({ min: 2, max: 64 }), 2),
    /**
     * Where a player who joins goes: to the team that needs it most, to one of the smallest at random, or to the team
     * whose captain picks it.
     */
    pick: setting(oneOf('balanced', 'random', 'captains'), 'balanced'),
    /** By how many seats teams may differ. */
    maxDifference: setting(whole({ min: 1 }), 1),
    /**
     * How many seats each team is meant to have, by its number. Teams are filled in proportion to it, and nobody can
     * choose a team that has as many. Default: teams of the same size.
     */
    sizes: setting(listOf(whole({ min: 1 })), []),
    /**
     * Whether seats may change teams only before play, between rounds too, or at any time. A seat that changes during
     * a round goes down, at the cost of no life and to nobody's credit.
     */
    switching: setting(oneOf('lobby', 'break', 'any'), 'lobby'),
    /** What a blow at a team-mate does: it is refused, lands, lands in part, or hits the one who struck. */
    friendlyFire: setting(oneOf('off', 'on', 'reduced', 'back'), 'off'),
    /** The part that lands with 'reduced'. */
    friendlyPart: setting(part('exact'), 0.5),
    /** What happens when all seats of a team but one team's have left: the others win, or play goes on. */
    emptyTeam: setting(oneOf('forfeit', 'go-on'), 'forfeit'),
    /** When the latest joiners of the largest team move to the smallest. */
    balance: setting(oneOf('none', 'at-start', 'at-round'), 'none'),
  }),
  state: {
    /** `team` counts from 0. With captains it counts once the seat is `picked`. */
    side: perSeat({
      team: int(0).seenBy(everyone),
      picked: flag(true).seenBy(everyone),
      /** Seats with the same number, but 0, stay in one team. */
      group: int(0),
      tradesWith: maybe(seatRef()).seenBy(everyone),
    }).each('match'),
    /** Whose captain picks next, and how many were picked. */
    draft: single({ captain: maybe(seatRef()).seenBy(everyone), picks: int(0) }).each('match'),
    /** What each team has scored in this bout, by its number. Points stay with the team that earned them. */
    sums: single({ score: list(int(), []).seenBy(everyone) }),
    inRound: single({ points: list(int(), []) }).each('round'),
  },
  events: {
    /** A seat belongs to a team. */
    joined: { seat: seatRef().seenBy(everyone), team: int().seenBy(everyone) },
    /** A seat has changed teams. */
    switched: { seat: seatRef().seenBy(everyone), team: int().seenBy(everyone) },
  },
  drafts: {
    /** The team of a seat. */
    assign: { seat: seatRef(), team: int() },
  },
})
export type Match = MatchOf<typeof shape>
