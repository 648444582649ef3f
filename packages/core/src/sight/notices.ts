import { type Audience, type Cells, reaches, type Sight, sightKey } from '../state/index.ts'

/** Something that happened, told to those who may know it. */
export interface Notice {
  /** The event it tells of, such as `credit.given`. */
  readonly name: string
  /** Match time (ms) at which it happened, and at which a client takes it off its screen. */
  readonly at: number
  readonly until: number
  readonly cells: { readonly [cell: string]: unknown }
}

/** Cells of an event that are seen alike. */
export interface EventFacet {
  readonly names: readonly string[]
  readonly sights: readonly Sight[]
}

/** How long a notice stands on a screen, ms. */
export const NOTICE_LASTS = 6000

/** Which cells of an event reach whom. */
export function eventFacets(cells: Cells): readonly EventFacet[] {
  const seen = Object.entries(cells).filter(([, { reach }]) => reach !== 'nobody')
  const keys = [...new Set(seen.map(([, { sights }]) => sightKey(sights)))]
  return keys.map((key) => {
    const alike = seen.filter(([, { sights }]) => sightKey(sights) === key)
    return { names: alike.map(([name]) => name), sights: alike[0]?.[1].sights ?? [] }
  })
}

/** Something that happened, with its viewers and values fixed: each gets a notice of what it may know. */
export class Telling {
  readonly until: number
  private readonly name: string
  private readonly at: number
  private readonly facets: readonly { readonly audience: Audience; readonly cells: Notice['cells'] }[]
  /** By the facets that a viewer sees; those who see the same share one notice. */
  private readonly notices: Map<number, Notice> = new Map()

  constructor(
    name: string,
    at: number,
    facets: readonly EventFacet[],
    event: Notice['cells'],
    audience: (sights: readonly Sight[]) => Audience,
  ) {
    this.name = name
    this.at = at
    this.until = at + NOTICE_LASTS
    this.facets = facets.map(({ names, sights }) => ({
      audience: audience(sights),
      cells: Object.fromEntries(names.map((cell) => [cell, event[cell] ?? null])),
    }))
  }

  /** What one viewer gets of it; nothing where it may know nothing. */
  for(viewer: string): Notice | undefined {
    const seen = this.facets.reduce(
      (bits, { audience }, facet) => (reaches(audience, viewer) ? bits | (1 << facet) : bits),
      0,
    )
    if (seen === 0) return undefined
    const known = this.notices.get(seen)
    if (known !== undefined) return known
    const cells = Object.assign({}, ...this.facets.map((facet, at) => (seen & (1 << at) ? facet.cells : {})))
    const notice: Notice = { name: this.name, at: this.at, until: this.until, cells }
    this.notices.set(seen, notice)
    return notice
  }
}
