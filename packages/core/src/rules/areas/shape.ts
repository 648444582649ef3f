import {
  type Audience,
  anyOf,
  choice,
  everyone,
  flag,
  int,
  map,
  maybe,
  nobody,
  only,
  owner,
  perSeat,
  type Seat,
  type SightContext,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../cells/index.ts'
import { assertOptions, RefereeError } from '../../kit/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'
import { directions } from './compass.ts'

/** A place in whole units, within ±2^24, so that squared distances are exact. */
export interface Point {
  /** Grows to the east. */
  readonly x: number
  /** Grows to the south: north is towards smaller y. */
  readonly y: number
}
/** How far is near, and how often positions and hints are sent. */
export interface AreaSettings {
  /** A seat that comes this near is seen. Default: everyone sees everything, except what is hidden. */
  readonly near?: number
  /** A seat that is seen stays visible until it is farther away than this. Default: `near`. */
  readonly far?: number
  /** Time between two updates of a position, in ms. */
  readonly every?: number
  /**
   * A seat that moves farther than this at once is seen only where it is near: what others saw of it before is
   * forgotten.
   */
  readonly jump?: number
  /** Time between two hints, in ms. */
  readonly hintEvery?: number
  /** The top speed of a client's own moves, in units per second. Default: only facts say where a seat is. */
  readonly speed?: number
  /** If true, a seat always sees where those on its side are. Default: false. */
  readonly teamSees?: boolean
  /** What a seat that is down sees: what is near the place where it fell, nothing, or everything. Default: 'place'. */
  readonly downSees?: 'place' | 'nothing' | 'all'
  /** If false, foes do not see a seat that is absent. Default: true. */
  readonly absentSeen?: boolean
  /** True if something is in the way of a client's move. */
  readonly wall?: (from: Point, to: Point) => boolean
}

const MOST = 2 ** 24
export const coordinate = int().between(-MOST, MOST)

/** What decides who sees where a seat is. */
interface Seen {
  readonly near: ReadonlySet<Seat>
  readonly hidden: number | undefined
  readonly lit: ReadonlyMap<Seat, number>
}
/** Stands for everyone among those who are shown a seat. */
export const ALL = ''

/** True if everyone sees everything, except what is hidden. */
export const seesAll = ({ near, downSees, absentSeen = true }: AreaSettings): boolean =>
  near === undefined && downSees !== 'nothing' && absentSeen

/** Returns who sees where a seat is. `side`: those who always see it. */
export function watchersOf(
  seat: Seat,
  { hidden, near, lit }: Seen,
  isWhole: boolean,
  side: Audience,
): Audience {
  if (lit.has(ALL) || (isWhole && hidden === undefined)) return everyone
  return anyOf(side, only(seat, ...near, ...lit.keys()))
}

export const ruleOf = (settings: AreaSettings) => {
  const { every = 50, near: limit, teamSees = false } = settings
  const isWhole = seesAll(settings)
  const seen = (spot: Seen & { readonly id: Seat }, look: SightContext) =>
    watchersOf(spot.id, spot, isWhole, teamSees ? look.sideOf(spot.id) : nobody)
  const noticed = ({ near }: { readonly near: ReadonlySet<Seat> }) =>
    limit === undefined ? everyone : only(...near)
  return declareRule({
    name: 'areas',
    needs: [roster, phases],
    knows: [teams, vitals],
    state: {
      /** Where a seat is. Seen by the seat itself and by those in `near`. */
      spots: perSeat({
        x: int(0).latest(every),
        y: int(0).latest(every),
        placed: flag(false),
        /** Since the step began: it has moved, and what others saw of it before is forgotten. */
        moved: flag(false),
        jumped: flag(false),
        near: set(seatRef()),
        /** The distance from which foes see it while it is hidden. */
        hidden: maybe(int()),
        /** Who is shown it wherever it is, and until when on the play clock. '' is everyone. */
        lit: map(int()),
        /**
         * When it last reported its own position, and until when it would have been on its way at full speed. On the
         * phase clock.
         */
        reported: int(0),
        walked: int(0),
        /** The sector that it was in when last checked. */
        sector: text(''),
      }).seenWhen({ x: seen, y: seen }),
      /** Things that lie about, seen by the seats near them. */
      things: table({
        kind: text(),
        x: coordinate,
        y: coordinate,
        near: set(seatRef()),
        sector: text(),
      })
        .indexedBy('sector')
        .seenWhen({ kind: noticed, x: noticed, y: noticed }),
      /** The direction of what a seat looks for, sent at regular times: how often it changes gives nothing away. */
      hints: perSeat({ towards: maybe(choice(...directions)).seenBy(owner), of: maybe(seatRef()) }),
      step: single({ stirred: flag(false) }),
    },
    events: {
      /** `seat` sees the other from now on, or no longer does. */
      entered: { seat: seatRef(), near: seatRef() },
      /** A seat is no longer near another; `near` is the one that no longer sees it. */
      left: { seat: seatRef(), near: seatRef() },
    },
    timers: ['hint', 'unlit'],
  })
}
export type Match = MatchOf<ReturnType<typeof ruleOf>>
export type Spot = ReturnType<Match['own']['spots']['of']>
export type Thing = ReturnType<Match['own']['things']['all']>[number]

export function assertSettings(settings: AreaSettings): void {
  assertOptions('areasOf', settings, [
    'near',
    'far',
    'every',
    'jump',
    'hintEvery',
    'speed',
    'teamSees',
    'downSees',
    'absentSeen',
    'wall',
  ])
  const { near = 1, far = near, jump = 0, every = 1, hintEvery = 1, speed = 1 } = settings
  const bad = Object.entries({ near, far, jump, every, hintEvery, speed }).filter(
    ([, value]) => !Number.isSafeInteger(value) || value < 0 || value > MOST,
  )
  const issues = bad.map(([name, value]) => `'${name}' must be a whole number from 0 to 2^24, not ${value}`)
  if (issues.length === 0 && far < near) issues.push(`'far' is ${far}, and must be at least 'near', ${near}`)
  if (issues.length === 0 && far === 0) issues.push("'far' must be more than 0")
  if (issues.length === 0 && speed === 0) issues.push("'speed' must be more than 0")
  if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'areas', issues })
}
