import type { ClientMatch } from '@zinc-referee/venue/client'
import type { JSX } from 'preact'
import type { AnyView } from 'zinc-referee'
import { type Entry, useMatch } from '../use-match.ts'

/** A column beside the first one: how it enters, whose it is, and what closes it. */
export interface Beside {
  readonly entry: Entry
  readonly title?: string | undefined
  readonly close: () => void
}

/** A column with a connection of its own. `children` draws it once the connection is there. */
export function AnotherColumn({
  entry,
  close,
  children,
}: Beside & { readonly children: (match: ClientMatch<AnyView>) => JSX.Element }) {
  const { match, problem } = useMatch(entry)
  if (problem !== undefined)
    return (
      <section class="column" role="alert">
        <p>{problem}</p>
        <button type="button" onClick={close}>
          Close
        </button>
      </section>
    )
  return match === undefined ? <section class="column">Going in…</section> : children(match)
}
