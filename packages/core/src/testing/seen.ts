import { canonicalJson } from '../kit/index.ts'
import type { AnyMatch } from '../rulebook/index.ts'

/** What a viewer sees at a path of its view, such as `vitals.body.heron.health`; nothing if it is not there. */
export const seenAt = (match: Pick<AnyMatch, 'view'>, viewer: string, path: string): unknown =>
  path
    .split('.')
    .reduce<unknown>(
      (at, part) =>
        Object.hasOwn(Object(at), part) ? (at as { readonly [part: string]: unknown })[part] : undefined,
      match.view(viewer),
    )

const NOTHING = 'nothing'
/** A value as text, for comparing and for showing. */
export const textOf = (value: unknown): string => (value === undefined ? NOTHING : canonicalJson(value))

/** True if a row or notice has these cells. */
export const fits = (found: unknown, cells: { readonly [cell: string]: unknown }): boolean =>
  Object.entries(cells).every(([name, value]) => textOf(Object(found)[name]) === textOf(value))
