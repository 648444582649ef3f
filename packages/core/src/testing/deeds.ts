import type { Seat } from '../cells/index.ts'
import type { AnyMatch } from '../rulebook/index.ts'

/** One thing to do to a match or to copies of it: an input, or letting time pass. */
export interface Deed {
  readonly at: number
  readonly kind: 'action' | 'fact' | 'directive' | 'other'
  readonly name: string
  readonly seat: string | undefined
  readonly input: unknown
  /** Returns its ruling. */
  does(match: AnyMatch): unknown
}

export const timePasses = (match: AnyMatch, ms: number): Deed => ({
  at: match.now,
  kind: 'other',
  name: 'time',
  seat: undefined,
  input: undefined,
  does(each) {
    each.advanceTo(ms)
    return { ok: true }
  },
})

/**
 * Returns the match with its inputs intercepted: each goes to `take`, which returns its ruling and decides whether to
 * pass it on.
 */
export function intercepted(match: AnyMatch, take: (deed: Deed) => unknown): AnyMatch {
  const input =
    (kind: Deed['kind'], way: 'report' | 'reportAll' | 'direct') =>
    (name: string, given: never): unknown =>
      take({
        at: match.now,
        kind,
        name,
        seat: undefined,
        input: given,
        does: (each) => each[way](name, given),
      })
  const instead: { readonly [name: string]: unknown } = {
    submit: (seat: Seat, name: string, given: object): unknown =>
      take({
        at: match.now,
        kind: 'action',
        name,
        seat,
        input: given,
        does: (each) => each.submit(seat, name, given),
      }),
    report: input('fact', 'report'),
    reportAll: input('other', 'reportAll'),
    direct: input('directive', 'direct'),
    advanceTo: (ms: number): unknown => take(timePasses(match, ms)),
  }
  return new Proxy(match, {
    get(target, key) {
      const own = typeof key === 'string' ? instead[key] : undefined
      const value: unknown = own ?? Reflect.get(target, key, target)
      return own === undefined && typeof value === 'function' ? value.bind(target) : value
    },
  })
}
