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

/** A place where a seat can come back. Without a team it is for everyone. */
export interface Place extends Point {
  /** Its name. */
  readonly name: string
  /** The team that comes back here; null: anybody. */
  readonly team: number | null
}
/** What a mode's own choice of a place goes by. */
export interface PlaceAsked {
  /** The seat that comes back. */
  readonly seat: Seat
  /** The places of its team that are not blocked; if all are, all of them. */
  readonly places: readonly Place[]
  /** Where the foes that are up are. */
  readonly foes: readonly Point[]
}

const settings = fields({
  /**
   * How a seat comes back. 'growing' waits longer after each down, 'wave' brings everyone back together, 'never'
   * sidelines a seat at its first down.
   */
  mode: setting(oneOf('fixed', 'growing', 'wave', 'never'), 'fixed'),
  /** Time from going down to being back, in ms of play time; with 'growing', after the first down. */
  after: setting(whole({ min: 0 }), seconds(3)),
  /** What 'growing' adds for each further down, in ms. */
  step: setting(whole({ min: 0 }), seconds(1)),
  /** Whether 'growing' counts the downs of the bout, or starts again with each round. */
  growsPer: setting(oneOf('bout', 'round'), 'bout'),
  /** The longest wait of 'growing', in ms; null means no limit. */
  maxDelay: setting(orNull(whole({ min: 0 })), null),
  /** Time from wave to wave, in ms of the round's play time. */
  waveEvery: setting(whole({ min: 1 }), seconds(10)),
  /** A seat that goes down less than this before a wave waits for the next one, in ms. */
  waveLead: setting(whole({ min: 0 }), 0),
  /** How many lives a seat has in all, or how many returns its team has if they are shared; null means no limit. */
  lives: setting(orNull(whole({ min: 1 })), null),
  /** Lives by team, or by seat in a rulebook without teams, in the order of their numbers. Others have `lives`. */
  livesBy: setting(listOf(whole({ min: 1 })), []),
  /** If true, seats that are out come back when a rule gives lives, those who have been out longest first. */
  reclaim: setting(yesNo, false),
  /** If true, the lives belong to the team instead of each seat. */
  shared: setting(yesNo, false),
  /** Whether lives are for the whole bout or for each round. */
  livesPer: setting(oneOf('bout', 'round'), 'bout'),
  /** If true, a seat must ask to be brought back once its time has come. */
  ask: setting(yesNo, false),
  /** Protection after coming back, in ms. */
  protectFor: setting(whole({ min: 0 }), seconds(2)),
  /** Where seats come back. */
  places: setting(
    listOf(
      fields({ name: word, team: setting(orNull(whole({ min: 0 })), null), x: mapped, y: mapped }),
    ).check(once(({ name }) => name, 'has a name twice')),
    [],
  ),
  /**
   * Which place a seat gets: in turn, by its index in its team, at random, at random but none twice until all were
   * used, or far from foes.
   */
  place: setting(oneOf('round-robin', 'index', 'random', 'shuffled', 'far'), 'round-robin'),
  /** How near to its place a seat must be to say that it has arrived, in units; null means anywhere. */
  arriveWithin: setting(orNull(whole({ min: 0 })), null),
})

export const shape = declareRule({
  name: 'respawn',
  needs: [vitals, phases, roster],
  knows: [rounds, teams, areas],
  config: ({ choose }: { readonly choose?: ((asked: PlaceAsked) => string) | undefined }) => ({ choose }),
  settings,
  state: {
    /** `waits` is set if its time has come and it has to ask. */
    back: perSeat({ due: time().seenBy(everyone), waits: flag(false).seenBy(everyone) }).each('life'),
    /** Lives that are left, including the present one; nothing if there is no limit or they are shared. */
    lives: perSeat({ left: maybe(int()).seenBy(everyone), downs: int(0).seenBy(everyone) }),
    /** Where it must go in which life, and whether it says that it is there. */
    orders: perSeat({
      life: int(0).seenBy(owner),
      place: text('').seenBy(owner),
      arrived: flag(false).seenBy(owner),
    }),
    /** Returns that are left, by team; under '' if there are no teams. `out`: who has no life left, first those out longest. */
    pool: single({ left: map(int()).seenBy(everyone), out: list(seatRef(), []) }),
    /** For each team: which place is next. For each place: when it was last used, and whether it is blocked. */
    places: single({ turn: map(int()), usedAt: map(int()), blocked: set(text()), drawn: set(text()) }),
    /** Downs of the step that are still to be scheduled, those of them that cost no life, and seats that were absent when they were due. */
    waiting: single({
      fallen: list(seatRef(), []),
      spared: list(seatRef(), []),
      held: list(seatRef(), []),
    }).each('round'),
    /** On the play clock. */
    round: single({ began: int(0) }).each('round'),
  },
  events: {
    /** A seat comes back at `due`, on the play clock. */
    scheduled: { seat: seatRef(), due: int() },
    /** A seat does not come back. `why` is left, out, round-over, over or raised. */
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
    /** A seat says that it is where it was ordered to go. */
    arrived: { seat: seatRef() },
  },
  drafts: {
    /** When a seat is to come back, in ms from now. */
    schedule: { seat: seatRef(), after: amount().between(0, Number.MAX_SAFE_INTEGER) },
  },
  timers: ['back', 'wave'],
})
export type Match = MatchOf<typeof shape>
