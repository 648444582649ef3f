import { pond, reeds, sight } from '../../../src/pond/water.ts'
import type { Seen } from '../face.tsx'
import { clickedAt } from '../map-click.ts'
import { MapMark, ownLast } from '../map-mark.tsx'
import { useOnlyTheirs } from '../only-there.tsx'
import type { PondView } from './pond-face.tsx'
import './pond-map.css'

/** The part of the pond that a fish sees, hatched where it sees nothing; clicking it swims there. */
export function PondMap({ match, viewer, act }: Seen<PondView>) {
  const { view } = match.replica
  const isTheirs = useOnlyTheirs()
  const own = viewer === null ? undefined : view.areas.spots[viewer]
  const swim = (event: MouseEvent): void => act?.('pond.swim', clickedAt(event, pond))
  // A new life begins somewhere else: its mark is a new one, and does not glide there.
  const lifeOf = (seat: string): string => `${seat} ${view.vitals.lives[seat]?.life}`
  const fish = ownLast(Object.entries(view.areas.spots), viewer)
  return (
    <figure class="map pond-map">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the four ways above do the same by keyboard */}
      <svg viewBox={`0 0 ${pond.width} ${pond.height}`} role="img" aria-label="The pond" onClick={swim}>
        <defs>
          <pattern
            id="unseen"
            width="14"
            height="14"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect class="murk" width="14" height="14" />
            <rect class="hatch" width="5" height="14" />
          </pattern>
        </defs>
        <rect fill="url(#unseen)" width={pond.width} height={pond.height} />
        {own?.x !== undefined && own.y !== undefined && (
          <g key={lifeOf(viewer ?? '')} class="glides" transform={`translate(${own.x} ${own.y})`}>
            <circle class="water" r={sight.far} />
          </g>
        )}
        {reeds.map(({ name, x, y, breadth }) => (
          <g key={name} class="reeds" transform={`translate(${x} ${y})`}>
            <title>{name}</title>
            <circle r={breadth} />
            <path d={blades(breadth)} />
          </g>
        ))}
        {Object.entries(view.areas.things).map(([id, { kind, x, y }]) =>
          x === undefined || y === undefined ? null : (
            <circle
              key={id}
              class={kind === 'moonfly' ? 'moonfly' : 'midge'}
              cx={x}
              cy={y}
              r={kind === 'moonfly' ? 12 : 6}
            />
          ),
        )}
        {fish.map(([seat, { x, y }]) =>
          x === undefined || y === undefined ? null : (
            <MapMark
              key={lifeOf(seat)}
              x={x}
              y={y}
              number={view.teams.side[seat]?.team === 0 ? 1 : 3}
              name={view.roster.seats[seat]?.name ?? seat}
              isOwn={seat === viewer}
              isTheirs={isTheirs(`areas.spots.${seat}.x`)}
              isFaint={view.vitals.body[seat]?.down === true}
              size={view.teams.side[seat]?.team === 0 ? 14 : 21}
            />
          ),
        )}
        {fish.map(([seat, { x, y }]) =>
          x === undefined || y === undefined || !view.pond.fish[seat]?.shoal ? null : (
            <circle key={`shoal ${lifeOf(seat)}`} class="shoal" cx={x} cy={y} r="24" />
          ),
        )}
      </svg>
      <figcaption>
        {viewer === null
          ? 'A spectator sees no fish: only what is near a fish is seen, by that fish.'
          : 'Round: minnows, ringed in a shoal. Diamonds: pikes. What is far is hatched.'}
      </figcaption>
    </figure>
  )
}

/** Blades of reed within a patch. */
function blades(breadth: number): string {
  const rows = [-0.6, -0.3, 0, 0.3, 0.6]
  return rows
    .flatMap((dy, row) =>
      [-0.6, -0.2, 0.2, 0.6].map((dx) => {
        const [x, y] = [Math.round((dx + row * 0.06) * breadth), Math.round((dy + 0.15) * breadth)]
        return `M${x} ${y}q-3 -14 2 -26`
      }),
    )
    .join('')
}
