import type { ClientMatch } from '@zinc-referee/venue/client'
import { river } from '../../../src/regatta/docks.ts'
import { MapMark, ownLast } from '../map-mark.tsx'
import { useOnlyTheirs } from '../only-there.tsx'
import type { RegattaView } from './regatta-face.tsx'
import { RiverBed } from './river-bed.tsx'

/** The river as a viewer sees it: docks, and the rafts whose place it knows. */
export function RiverMap({
  match,
  viewer,
}: {
  readonly match: ClientMatch<RegattaView>
  readonly viewer: string | null
}) {
  const { view } = match.replica
  const isTheirs = useOnlyTheirs()
  const rafts = ownLast(Object.entries(view.areas.spots), viewer)
  const inMist = Object.keys(view.roster.seats).filter((seat) => view.areas.spots[seat] === undefined)
  const names = inMist.map((seat) => view.roster.seats[seat]?.name ?? seat)
  return (
    <figure class="map river">
      <svg viewBox={`-14 -14 ${river.width + 28} ${river.height + 28}`} role="img" aria-label="The river">
        <RiverBed />
        {rafts.map(([seat, { x, y }]) =>
          x === undefined || y === undefined ? null : (
            <MapMark
              // A new life begins at a dock: its mark does not glide there.
              key={`${seat} ${view.vitals.lives[seat]?.life}`}
              x={x}
              y={y}
              number={view.roster.seats[seat]?.number ?? 0}
              name={view.roster.seats[seat]?.name ?? seat}
              isOwn={seat === viewer}
              isTheirs={isTheirs(`areas.spots.${seat}.x`)}
              isFaint={view.vitals.body[seat]?.down === true}
            />
          ),
        )}
      </svg>
      <figcaption>
        {names.length === 0 ? 'Every raft is in sight.' : `Out of sight in the mist: ${names.join(', ')}.`}
      </figcaption>
    </figure>
  )
}
