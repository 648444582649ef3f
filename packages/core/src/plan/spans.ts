import type { Span } from '../cells/index.ts'

/** A longer span contains the shorter ones. */
const inOrder: readonly Span[] = ['turn', 'life', 'round', 'bout', 'match']

/** By span, the parts whose cells go back to their first values with it. */
export type PartsBySpan = { readonly [S in Span]: readonly (readonly [rule: number, part: number])[] }

export function partsBySpan(
  rules: readonly { readonly parts: readonly { readonly span: Span }[] }[],
): PartsBySpan {
  const within = (span: Span) =>
    rules.flatMap(({ parts }, rule) =>
      parts.flatMap((part, at): (readonly [number, number])[] =>
        inOrder.indexOf(part.span) <= inOrder.indexOf(span) ? [[rule, at]] : [],
      ),
    )
  return {
    turn: within('turn'),
    life: within('life'),
    round: within('round'),
    bout: within('bout'),
    match: within('match'),
  }
}
