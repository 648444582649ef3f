import {
  amount,
  everyone,
  flag,
  int,
  list,
  map,
  maybe,
  owner,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, listOf, once, oneOf, orNull, setting, whole, word, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { areas } from '../areas/areas.ts'
import { coordinate, type Point } from '../areas/shape.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'

const MOST = 2 ** 24
const mapped = whole({ min: -MOST, max: MOST })

/** Where a seat can come back; without a team it is everyone's. */
export interface Place extends Point {
  /** Its name. */
  readonly name: string
  /** The team that comes back here; null: anybody. */
  readonly team: number | null
}
/** What a mode's own choice of a place goes by. */
export interface PlaceAsked {
  /** Who comes back. */
  readonly seat: Seat
  /** Those of its team that are not blocked; where all are, all of them. */
  readonly places: readonly Place[]
  /** Where foes are that are up. */
  readonly foes: readonly Point[]
}

const settings = fields({
  /** 'growing' waits longer after each down, 'wave' brings all back together, 'never' puts out at the first down. */
  mode: setting(oneOf('fixed', 'growing', 'wave', 'never'), 'fixed'),
  /** Ms of play time from going down to being back; with 'growing' after the first down. */
  after: setting(whole({ min: 0 }), seconds(3)),
  /** Ms that 'growing' adds for each further down of the bout. */
  step: setting(whole({ min: 0 }), seconds(1)),
  /** The longest that 'growing' gets, ms; null is without end. */
  maxDelay: setting(orNull(whole({ min: 0 })), null),
  /** Ms of a round's play time from wave to wave. */
  waveEvery: setting(whole({ min: 1 }), seconds(10)),
  /** Who goes down less than this (ms) before a wave waits for the next one. */
  waveLead: setting(whole({ min: 0 }), 0),
  /** How many lives a seat has in all, or how many returns its team has if they are shared; null is without end. */
  lives: setting(orNull(whole({ min: 1 })), null),
  /** Whether the lives are the team's, and not each seat's own. */
  shared: setting(yesNo, false),
  /** Whether lives are for the whole bout or for each round. */
  livesPer: setting(oneOf('bout', 'round'), 'bout'),
  /** Whether a seat must ask to be brought back, once its time has come. */
  ask: setting(yesNo, false),
  /** Ms of protection on coming back. */
  protectFor: setting(whole({ min: 0 }), seconds(2)),
  /** Where seats come back. */
  places: setting(
    listOf(
      fields({ name: word, team: setting(orNull(whole({ min: 0 })), null), x: mapped, y: mapped }),
    ).check(once(({ name }) => name, 'has a name twice')),
    [],
  ),
  /** Which of them: in turn, by a seat's index in its team, at random, at random but none twice before all had their turn, or far from foes. */
  place: setting(oneOf('round-robin', 'index', 'random', 'shuffled', 'far'), 'round-robin'),
  /** From how far of its place a seat may say that it has arrived, units; null is from anywhere. */
  arriveWithin: setting(orNull(whole({ min: 0 })), null),
})

export const shape = declareRule({
  name: 'respawn',
  needs: [vitals, phases, roster],
  knows: [rounds, teams, areas],
  config: (given: { readonly choose?: (asked: PlaceAsked) => string }) => given,
  settings,
  state: {
    /** `waits` is set where its time has come and it is to ask. */
    back: perSeat({ due: time().seenBy(everyone), waits: flag(false).seenBy(everyone) }).each('life'),
    /** Lives that are left, the present one with them; nothing where they have no end or are shared. */
    lives: perSeat({ left: maybe(int()).seenBy(everyone), downs: int(0).seenBy(everyone) }),
    /** Where it is to be in which life, and whether it has said that it is there. */
    orders: perSeat({
      life: int(0).seenBy(owner),
      place: text('').seenBy(owner),
      arrived: flag(false).seenBy(owner),
    }),
    /** Returns that are left, by team; under '' where there are no teams. */
    pool: single({ left: map(int()).seenBy(everyone) }),
    /** By team: whose turn it is. By place: when it was used last, and whether it is blocked. */
    places: single({ turn: map(int()), usedAt: map(int()), blocked: set(text()), drawn: set(text()) }),
    /** Downs of the step that are still to be scheduled; and those whose due found them absent. */
    waiting: single({ fallen: list(seatRef(), []), held: list(seatRef(), []) }).each('round'),
    /** On the play clock. */
    round: single({ began: int(0) }).each('round'),
  },
  events: {
    /** A seat comes back at `due`, on the play clock. */
    scheduled: { seat: seatRef(), due: int() },
    /** A seat does not come back; `why` is left, out, round-over, over or raised. */
    cancelled: { seat: seatRef(), why: text() },
    /** A seat is back in play. */
    back: { seat: seatRef().seenBy(everyone), life: int().seenBy(everyone) },
    /** The order to move: its client shows the seat there from now on. */
    move: {
      seat: seatRef().seenBy(owner),
      life: int().seenBy(owner),
      place: text().seenBy(owner),
      x: coordinate.seenBy(owner),
      y: coordinate.seenBy(owner),
    },
    /** A seat has said that it is where it was ordered to. */
    arrived: { seat: seatRef() },
  },
  drafts: {
    /** When a seat is to come back, ms from now. */
    schedule: { seat: seatRef(), after: amount().between(0, Number.MAX_SAFE_INTEGER) },
  },
  timers: ['back', 'wave'],
})
export type Match = MatchOf<typeof shape>
