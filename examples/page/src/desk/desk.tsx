import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { Header } from '../header.tsx'
import type { Entry } from '../use-match.ts'
import { Column, OtherColumn } from './column.tsx'
import { DriveColumn, DrivingColumn } from './drive-column.tsx'
import './desk.css'

/** What stands beside the first column. */
interface Other {
  readonly key: number
  readonly enters: Entry
  readonly title?: string | undefined
}

/** A running match of any rulebook, side by side: what seats and spectators see and may do, and what a referee may. */
export function Desk({
  entry,
  match,
  goOut,
}: {
  readonly entry: Entry
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
}) {
  const [others, setOthers] = useState<readonly Other[]>([])
  const [drives, drive] = useState(false)
  const { seats } = match.replica.view.roster
  const { name, admission } = entry
  const isSeated = match.seat !== null
  const names = Object.values(seats).map((seat) => seat.name)
  const add = (other: Omit<Other, 'key'>): void =>
    setOthers([...others, { ...other, key: (others.at(-1)?.key ?? 0) + 1 }])
  const shown = others.map(({ enters }) => enters.watch)
  const hidden = Object.keys(seats).filter((seat) => !shown.includes(seat))
  return (
    <div class="page">
      <Header match={match} goOut={goOut} />
      <div class="row">
        {/* Who comes with an admission comes alone: it lets one in. */}
        {admission === undefined && (
          <button
            type="button"
            onClick={() =>
              add({ enters: { name: nextGuest([...names, ...others.map(({ enters }) => enters.name)]) } })
            }
          >
            Add a seat
          </button>
        )}
        {isSeated && (
          <>
            <button type="button" onClick={() => add({ enters: { watch: 'spectator' } })}>
              Add a spectator
            </button>
            <button type="button" disabled={drives} onClick={() => drive(true)}>
              Drive
            </button>
          </>
        )}
        {!isSeated && (
          <label class="row">
            See what a seat sees
            <select
              value=""
              disabled={hidden.length === 0}
              onChange={({ currentTarget: { value } }) =>
                add({ enters: { ...entry, watch: value }, title: seats[value]?.name })
              }
            >
              <option value="">choose</option>
              {hidden.map((seat) => (
                <option key={seat} value={seat}>
                  {seats[seat]?.name}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <div class="columns">
        {!isSeated && <DriveColumn match={match} />}
        {drives && (
          <DrivingColumn
            entry={{ match: match.id, watch: 'spectator', ...(name && { name }) }}
            close={() => drive(false)}
          />
        )}
        <Column match={match} />
        {others.map(({ key, enters, title }) => (
          <OtherColumn
            key={key}
            entry={{ ...enters, match: match.id }}
            title={title}
            close={() => setOthers(others.filter((other) => other.key !== key))}
          />
        ))}
      </div>
    </div>
  )
}

/** The next name that nobody has: the first seat of a desk is the first guest. */
function nextGuest(taken: readonly unknown[]): string {
  let number = 2
  while (taken.includes(`Guest ${number}`)) number++
  return `Guest ${number}`
}
