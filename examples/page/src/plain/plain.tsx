import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Header } from '../header.tsx'
import type { Entry } from '../use-match.ts'
import { Column, OtherColumn } from './column.tsx'
import './plain.css'

interface Other {
  readonly key: number
  readonly enters: Entry
}

/** A page for whatever rulebook: seats side by side, each with what it sees and a button for each action. */
export function Plain({
  match,
  goOut,
}: {
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}) {
  const [others, setOthers] = useState<readonly Other[]>([])
  const add = (enters: Entry): void => setOthers([...others, { enters, key: (others.at(-1)?.key ?? 0) + 1 }])
  return (
    <div class="page">
      <Header match={match} goOut={goOut} />
      <div class="row">
        <button type="button" onClick={() => add({ name: `Guest ${others.length + 2}` })}>
          Add a seat
        </button>
        <button type="button" onClick={() => add({ watch: 'spectator' })}>
          Add a spectator
        </button>
      </div>
      <div class="columns">
        <Column match={match} />
        {others.map((other) => (
          <OtherColumn
            key={other.key}
            entry={{ match: match.id, ...other.enters }}
            close={() => setOthers(others.filter(({ key }) => key !== other.key))}
          />
        ))}
      </div>
    </div>
  )
}
