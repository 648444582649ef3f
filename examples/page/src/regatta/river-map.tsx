import type { ClientMatch } from '@zinc-referee/venue/client'
import { docks, river } from '../../../src/regatta/docks.ts'
import { MapMark, ownLast } from '../map-mark.tsx'
import type { RegattaView } from './regatta-face.tsx'
import './river-map.css'

/** The river as a viewer sees it: docks, and the rafts whose place it knows. */
export function RiverMap({
  match,
  viewer,
}: {
  readonly match: ClientMatch<RegattaView>
  readonly viewer: string | null
}) {
  const { view } = match.replica
  const rafts = ownLast(Object.entries(view.areas.spots), viewer)
  const inMist = Object.keys(view.roster.seats).filter((seat) => view.areas.spots[seat] === undefined)
  const names = inMist.map((seat) => view.roster.seats[seat]?.name ?? seat)
  return (
    <figure class="map">
      <svg viewBox={`-14 -14 ${river.width + 28} ${river.height + 28}`} role="img" aria-label="The river">
        <rect class="water" x="-14" y="-14" width={river.width + 28} height={river.height + 28} rx="8" />
        {docks.map(({ name, x, y }) => (
          <g key={name}>
            <rect class="dock" x={x - 12} y={y - 7} width="24" height="14" rx="2">
              <title>{name}</title>
            </rect>
            <text
              class="dock-name"
              x={x < river.width / 2 ? x - 12 : x + 12}
              y={y + 19}
              text-anchor={x < river.width / 2 ? 'start' : 'end'}
            >
              {name}
            </text>
          </g>
        ))}
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
