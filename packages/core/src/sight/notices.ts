import { type Audience, type Cells, reaches, SERVER, type Sight, sightKey } from '../state/index.ts'

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
  readonly forAll: boolean
}

/** How long a notice stands on a screen, ms. */
export const NOTICE_LASTS = 6000

/** Which cells of an event reach whom. */
export function eventFacets(cells: Cells): readonly EventFacet[] {
  const seen = Object.entries(cells).filter(([, { reach }]) => reach !== 'nobody')
  const keys = [...new Set(seen.map(([, { sights }]) => sightKey(sights)))]
  return keys.map((key) => {
    const alike = seen.filter(([, { sights }]) => sightKey(sights) === key)
    const first = alike[0]?.[1]
    return {
      names: alike.map(([name]) => name),
      sights: first?.sights ?? [],
      forAll: first?.reach === 'everyone',
    }
  })
}

/** Something that happened, with its viewers and values fixed: each gets a notice of what it may know. */
export class Telling {
  readonly until: number
  private readonly name: string
  private readonly at: number
  private readonly facets: readonly EventFacet[]
  private readonly event: Notice['cells']
  /** By facet, whom it reaches; nothing where all reach everyone. */
  private readonly audiences: readonly Audience[] | undefined
  /** The notice that was made last, for those who see the same facets. */
  private made: { readonly seen: number; readonly notice: Notice } | undefined

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
    this.facets = facets
    this.event = event
    this.audiences = facets.every(({ forAll }) => forAll)
      ? undefined
      : facets.map(({ sights }) => audience(sights))
  }

  /** What one viewer gets of it; nothing where it may know nothing. */
  for(viewer: string): Notice | undefined {
    const seen =
      (viewer === SERVER ? undefined : this.audiences)?.reduce(
        (bits, audience, at) => (reaches(audience, viewer) ? bits | (1 << at) : bits),
        0,
      ) ?? -1
    if (seen === 0) return undefined
    if (this.made?.seen !== seen) this.made = { seen, notice: this.notice(seen) }
    return this.made.notice
  }

  /** Lets go of what can be made again. */
  rest(): void {
    this.made = undefined
  }

  private notice(seen: number): Notice {
    const cells: Record<string, unknown> = {}
    for (const [at, { names }] of this.facets.entries())
      if (seen & (1 << at)) for (const name of names) cells[name] = this.event[name] ?? null
    return { name: this.name, at: this.at, until: this.until, cells }
  }
}
