import type { AnyMatch } from '../../rulebook/index.ts'
import type { Tally, Won } from './rehearsal.ts'

/** Counts what happened, by name. */
export class Tallies {
  readonly #times: Map<string, number> = new Map()

  add(name: string, times = 1): void {
    this.#times.set(name, (this.#times.get(name) ?? 0) + times)
  }

  /** The most frequent first. */
  all(): readonly Tally[] {
    return [...this.#times].map(([name, times]) => ({ name, times })).sort((a, b) => b.times - a.times)
  }
}

/** Counts what came true, of how many times that it could, by name. */
export class Shares {
  readonly #known: Map<string, { times: number; of: number }> = new Map()

  add(name: string, came: boolean): void {
    this.addAll({ name, times: came ? 1 : 0, of: 1 })
  }

  addAll({ name, times, of }: Won): void {
    const known = this.#known.get(name) ?? { times: 0, of: 0 }
    this.#known.set(name, { times: known.times + times, of: known.of + of })
  }

  /** In the order in which they first came. */
  all(): readonly Won[] {
    return [...this.#known].map(([name, counted]) => ({ name, ...counted }))
  }
}

/** Returns what names the choices in an accepted action: its cells that take one of a few values. */
export function choicesOf(match: AnyMatch): (action: string, input: unknown) => readonly string[] {
  const named = new Map(
    match
      .describe()
      .rules.flatMap(({ actions }) => actions)
      .map(({ name, cells = {} }) => [
        name,
        Object.entries(cells).flatMap(([cell, { kind }]) => (kind === 'choice' ? [cell] : [])),
      ]),
  )
  return (action, input) =>
    (named.get(action) ?? []).flatMap((cell) => {
      const value: unknown = Object(input)[cell]
      return typeof value === 'string' ? [`${action} ${cell} ${value}`] : []
    })
}
