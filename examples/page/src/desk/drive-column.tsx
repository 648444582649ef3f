import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView } from 'zinc-referee'
import { useRulebook } from '../use-rulebook.ts'
import { AnotherColumn, type Beside } from './another-column.tsx'
import { Drive } from './drive.tsx'

/** What a referee may do. To everybody else it says how one becomes one. */
export function DriveColumn({
  match,
  close,
}: {
  readonly match: ClientMatch<AnyView>
  readonly close?: (() => void) | undefined
}) {
  const rulebook = useRulebook(match)
  const mayDrive = match.role === 'referee' || match.role === 'reporter'
  return (
    <section class="column drive" aria-label="Drive">
      <div class="row apart">
        <h2>Drive</h2>
        {close && (
          <button type="button" onClick={close}>
            Close
          </button>
        )}
      </div>
      {mayDrive ? (
        <Drive match={match} rulebook={rulebook} />
      ) : (
        <p>
          You only watch here. To report and direct, come with the admission of a referee: add
          <code> #admission=…</code> to the address.
        </p>
      )}
    </section>
  )
}

/** The same over a connection of its own. */
export const DrivingColumn = (beside: Beside) => (
  <AnotherColumn {...beside}>{(match) => <DriveColumn match={match} close={beside.close} />}</AnotherColumn>
)
