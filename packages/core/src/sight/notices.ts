import type { Cells, Seat } from '../state/index.ts'

/** Something that happened, told to those who may know it. */
export interface Notice {
  /** The event it tells of, such as `credit.given`. */
  readonly name: string
  /** Match time (ms) at which it happened, and at which a client takes it off its screen. */
  readonly at: number
  readonly until: number
  readonly cells: { readonly [cell: string]: unknown }
}

/** A notice as it goes out: what everyone may know of it, and what its owner may. */
export interface Telling {
  readonly until: number
  readonly forAll: Notice | undefined
  readonly owner: Seat | undefined
  readonly forOwner: Notice | undefined
}

/** How long a notice stands on a screen, ms. */
export const NOTICE_LASTS = 6000

/** Which cells of an event reach whom; nothing when nobody sees any. */
export interface EventSight {
  readonly all: readonly string[]
  readonly owned: readonly string[]
}

export function eventSight(cells: Cells): EventSight | undefined {
  const names = (reach: string): string[] => Object.keys(cells).filter((name) => cells[name]?.reach === reach)
  const all = names('everyone')
  const owned = names('owner')
  return all.length + owned.length === 0 ? undefined : { all, owned }
}

/** Fixes a notice's values and viewers as they are now. */
export function telling(
  name: string,
  at: number,
  sight: EventSight,
  event: { readonly [cell: string]: unknown },
): Telling {
  const notice = (names: readonly string[]): Notice | undefined =>
    names.length === 0
      ? undefined
      : {
          name,
          at,
          until: at + NOTICE_LASTS,
          cells: Object.fromEntries(names.map((cell) => [cell, event[cell] ?? null])),
        }
  const owner = sight.owned.length === 0 ? undefined : String(event['seat'])
  return {
    until: at + NOTICE_LASTS,
    forAll: notice(sight.all),
    owner,
    forOwner: owner === undefined ? undefined : notice([...sight.all, ...sight.owned]),
  }
}

/** What one viewer gets of it. */
export function noticeFor(viewer: string, told: Telling): Notice | undefined {
  return told.owner === viewer ? told.forOwner : told.forAll
}
