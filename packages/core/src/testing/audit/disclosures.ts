import { reaches } from '../../cells/index.ts'
import type { ServerEvent } from '../../engine/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { Disclosure } from '../../rule/index.ts'
import type { OpenMatch, RulebookDescription } from '../../rulebook/index.ts'
import type { Deed } from '../deeds.ts'

/** Marks what a view may reveal of a secret before anything has happened, such as the number of cards in a deck. */
export const ALWAYS = 'always'
/** By what a row is known again when it comes back into sight, such as the place where it lies. */
export const AGAIN = 'again'

/** The events of one step of a twin. */
export interface Happened {
  readonly deed: Deed
  readonly events: readonly ServerEvent[]
}

/** Secrets that are revealed on purpose, and how often each was, by viewer. */
export class Disclosures {
  readonly all: readonly Disclosure[]
  private readonly times: Map<Disclosure, Map<string, number>> = new Map()

  constructor(all: readonly Disclosure[]) {
    this.all = all
  }

  /** True if what happened reveals this secret to the viewer, on purpose. */
  reach(secret: string, viewer: string, { deed, events }: Happened, twin: OpenMatch): boolean {
    const found = this.all.find(
      (each) =>
        each.secret === secret &&
        (this.isNamed(each, deed.name, deed.input, deed.seat, viewer, twin) ||
          events.some(({ name, cells }) => this.isNamed(each, name, cells, undefined, viewer, twin))),
    )
    if (found !== undefined) this.count(found, viewer)
    return found !== undefined
  }

  /** True if a view may always tell of this secret, or if it may be by what a row is known again. */
  allows(way: typeof ALWAYS | typeof AGAIN, secret: string, viewer: string): boolean {
    const found = this.all.find((each) => each.secret === secret && each.by === way)
    if (found !== undefined) this.count(found, viewer)
    return found !== undefined
  }

  /** All of them, with how often each was made to each viewer. */
  report(): (Disclosure & { readonly times: { readonly [viewer: string]: number } })[] {
    return this.all.map((each) => ({ ...each, times: Object.fromEntries(this.times.get(each) ?? []) }))
  }

  private isNamed(
    { by, to }: Disclosure,
    name: string,
    cells: unknown,
    asker: string | undefined,
    viewer: string,
    twin: OpenMatch,
  ): boolean {
    if (![by].flat().includes(name)) return false
    if (to === 'everyone') return true
    if (to === 'asker') return asker === viewer
    if (!to.includes('.')) return [Object(cells)[to]].flat().includes(viewer)
    return reaches(twin.engine.sights.audience([{ reach: 'some', group: to }], undefined, 0), viewer)
  }

  private count(disclosure: Disclosure, viewer: string): void {
    const times = this.times.get(disclosure) ?? new Map<string, number>()
    this.times.set(disclosure, times.set(viewer, (times.get(viewer) ?? 0) + 1))
  }
}

/** Throws if a disclosure names something that does not exist: it would excuse nothing, and nobody would notice. */
export function assertKnown(disclosures: readonly Disclosure[], { rules }: RulebookDescription): void {
  const inputs = rules.flatMap((rule) => [...rule.actions, ...rule.facts, ...rule.directives])
  const events = rules.flatMap(({ name, events: own }) => Object.keys(own).map((event) => `${name}.${event}`))
  const groups = rules.flatMap(({ name, groups: own = [] }) => own.map((group) => `${name}.${group}`))
  const secrets = rules.flatMap(({ name, state, variations = [] }) => [
    ...variations.map((variation) => `${name}.${variation}`),
    ...Object.entries(state).flatMap(([part, { cells }]) => [
      `${name}.${part}`,
      ...Object.keys(cells).map((cell) => `${name}.${part}.${cell}`),
    ]),
  ])
  const ways = new Set(['time', ALWAYS, AGAIN, ...inputs.map(({ name }) => name), ...events])
  for (const { secret, by, to } of disclosures) {
    if (secret !== 'draws' && !secrets.includes(secret))
      refuse(
        `'discloses' names '${secret}', which is not a secret here`,
        "Name it as 'rule.part.cell' or 'rule.part'",
      )
    const unknown = [by].flat().find((way) => !ways.has(way))
    if (unknown !== undefined)
      refuse(
        `'discloses' names '${unknown}', which is neither an input nor an event`,
        "Name it as 'rule.name'",
      )
    if (to.includes('.') && !groups.includes(to))
      refuse(`'discloses' names '${to}', which is not a group`, "Name it as 'rule.group'")
  }
}

function refuse(what: string, fix: string): never {
  throw new RefereeError('ZR_MATCH_MISUSED', { what, fix })
}
