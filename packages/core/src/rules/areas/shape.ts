import { RefereeError } from '../../kit/index.ts'
import { declareRule, type MatchOf } from '../../match/index.ts'
import {
  choice,
  flag,
  int,
  list,
  maybe,
  only,
  owner,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../state/index.ts'
import { phases } from '../phases.ts'
import { roster } from '../roster.ts'
import { directions } from './compass.ts'

/** A place in whole units, within ±2^24, so that squared distances are exact. */
export interface Point {
  readonly x: number
  readonly y: number
}
export interface AreaSettings {
  /** Whoever comes this near is seen; and whoever is seen stays so until it is further away than `far`. */
  readonly near: number
  readonly far: number
  /** Ms between two updates of a position. */
  readonly every?: number
  /** Whoever moves further than this at once is seen only where it is near: what was seen of it before is forgotten. */
  readonly jump?: number
  /** Ms between two hints of where something lies. */
  readonly hintEvery?: number
}

const MOST = 2 ** 24
export const coordinate = int().between(-MOST, MOST)

export const ruleOf = ({ every = 50 }: AreaSettings) => {
  const seen = ({ id, near }: { readonly id: Seat; readonly near: ReadonlySet<Seat> }) => only(id, ...near)
  const noticed = ({ near }: { readonly near: ReadonlySet<Seat> }) => only(...near)
  return declareRule({
    name: 'areas',
    needs: [roster, phases],
    state: {
      /** Where a seat is; seen by itself and by those near it. */
      spots: perSeat({
        x: int(0).latest(every),
        y: int(0).latest(every),
        placed: flag(false),
        near: set(seatRef()),
        /** The sector in which it was when it was last looked at. */
        sector: text(''),
      }).seenWhen({ x: seen, y: seen }),
      /** What lies about: seen by the seats near it. */
      things: table({
        kind: text(),
        x: coordinate,
        y: coordinate,
        near: set(seatRef()),
        sector: text(),
      })
        .indexedBy('sector')
        .seenWhen({ kind: noticed, x: noticed, y: noticed }),
      /** Where what a seat looks for lies, told on a beat of its own: how often it changes tells nothing. */
      hints: perSeat({ towards: maybe(choice(...directions)).seenBy(owner), of: maybe(seatRef()) }),
      step: single({ moved: list(seatRef(), []), jumped: list(seatRef(), []) }),
    },
    events: {
      entered: { seat: seatRef(), near: seatRef() },
      left: { seat: seatRef(), near: seatRef() },
    },
    timers: ['hint'],
  })
}
export type Match = MatchOf<ReturnType<typeof ruleOf>>
export type Spot = ReturnType<Match['own']['spots']['of']>
export type Thing = ReturnType<Match['own']['things']['all']>[number]

export function assertSettings({ near, far, jump = 0, every = 1, hintEvery = 1 }: AreaSettings): void {
  const bad = Object.entries({ near, far, jump, every, hintEvery }).filter(
    ([, value]) => !Number.isSafeInteger(value) || value < 0 || value > MOST,
  )
  const issues = bad.map(([name, value]) => `'${name}' must be a whole number from 0 to 2^24, not ${value}`)
  if (issues.length === 0 && far < near) issues.push(`'far' is ${far}, and must be at least 'near', ${near}`)
  if (issues.length === 0 && far === 0) issues.push("'far' must be more than 0")
  if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'areas', issues })
}
