import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Header } from '../header.tsx'
import { Column, OtherColumn } from '../plain/column.tsx'
import type { Entry } from '../use-match.ts'
import { useRulebook } from '../use-rulebook.ts'
import { Drive } from './drive.tsx'

/** How the desk at this address enters: `?desk=MATCH&name=NAME#admission=TOKEN`. What is behind # is not sent for the page. */
export function deskEntry(): Entry | 'door' | undefined {
  const asked = new URLSearchParams(location.search)
  const match = asked.get('desk')
  if (match === null) return undefined
  if (match === '') return 'door'
  const admission = new URLSearchParams(location.hash.slice(1)).get('admission')
  return {
    match,
    watch: 'spectator',
    name: asked.get('name') ?? 'Referee',
    ...(admission === null ? {} : { admission }),
  }
}

/** A running match of any rulebook: what spectators and seats see, side by side, and what a referee may do. */
export function Desk({
  entry,
  match,
  goOut,
}: {
  readonly entry: Entry
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}) {
  const rulebook = useRulebook(match)
  const [shown, show] = useState<readonly string[]>([])
  const { seats } = match.replica.view.roster
  const others = Object.keys(seats).filter((seat) => !shown.includes(seat))
  const mayDrive = match.role === 'referee' || match.role === 'reporter'
  return (
    <div class="page">
      <Header match={match} goOut={goOut} />
      <label class="row">
        See what a seat sees
        <select
          value=""
          disabled={others.length === 0}
          onChange={(event) => show([...shown, event.currentTarget.value])}
        >
          <option value="">choose</option>
          {others.map((seat) => (
            <option key={seat} value={seat}>
              {seats[seat]?.name}
            </option>
          ))}
        </select>
      </label>
      <div class="columns">
        {mayDrive ? (
          <Drive match={match} rulebook={rulebook} />
        ) : (
          <section class="column" aria-label="Drive">
            <h2>Drive</h2>
            <p>
              You only watch here. To report and direct, come with the admission of a referee: add
              <code> #admission=…</code> to the address.
            </p>
          </section>
        )}
        <Column match={match} />
        {shown.map((seat) => (
          <OtherColumn
            key={seat}
            entry={{ ...entry, watch: seat }}
            title={seats[seat]?.name}
            close={() => show(shown.filter((each) => each !== seat))}
          />
        ))}
      </div>
    </div>
  )
}
