import { bell, docks, pier, sight } from '../../../src/bell/pier.ts'
import type { Seen } from '../face.tsx'
import { clickedAt } from '../map-click.ts'
import { MapMark, ownLast } from '../map-mark.tsx'
import { nameIn } from '../names.ts'
import { useOnlyTheirs } from '../only-there.tsx'
import type { BellView } from './bell-face.tsx'
import './pier-map.css'

/** The pier as a viewer sees it: the bell, stones that lie near, and everyone in sight. A click walks there. */
export function PierMap({ match, viewer, act }: Seen<BellView>) {
  const { view } = match.replica
  const isTheirs = useOnlyTheirs()
  const own = viewer === null ? undefined : view.areas.spots[viewer]
  const [rung] = Object.values(view.zones.zones)
  const walk = (event: MouseEvent): void => act?.('tide.walk', clickedAt(event, pier))
  const unseen = Object.keys(view.roster.seats).filter((seat) => view.areas.spots[seat]?.x === undefined)
  return (
    <figure class="map">
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the buttons above do the same by keyboard */}
      <svg
        class="pier"
        viewBox={`0 0 ${pier.width} ${pier.height}`}
        role="img"
        aria-label="The pier"
        onClick={walk}
      >
        <rect class="fog" width={pier.width} height={pier.height} />
        {own?.x !== undefined && own.y !== undefined && (
          <circle class="planks glides" r={sight.near} transform={`translate(${own.x} ${own.y})`} />
        )}
        {docks.map(({ name, x, y }) => (
          <rect key={name} class="dock" x={x - 12} y={y - 10} width="24" height="20" rx="2">
            <title>{name}</title>
          </rect>
        ))}
        <circle
          class={`bell ${rung?.rate ? `rings-${rung.side}` : ''}`}
          cx={bell.x}
          cy={bell.y}
          r={bell.reach}
        />
        <path
          class="bell-shape"
          transform={`translate(${bell.x} ${bell.y})`}
          d="M-9 8 Q-8 -12 0 -13 Q8 -12 9 8 Z"
        />
        {Object.entries(view.areas.things).map(([id, { x, y }]) =>
          x === undefined || y === undefined ? null : <circle key={id} class="stone" cx={x} cy={y} r="4" />,
        )}
        {ownLast(Object.entries(view.areas.spots), viewer).map(([seat, { x, y }]) =>
          x === undefined || y === undefined ? null : (
            <MapMark
              // A new life begins at a dock: its mark does not glide there.
              key={`${seat} ${view.vitals.lives[seat]?.life}`}
              x={x}
              y={y}
              number={view.roster.seats[seat]?.number ?? 0}
              name={nameIn(view, seat)}
              isOwn={seat === viewer}
              isTheirs={isTheirs(`areas.spots.${seat}.x`)}
              isFaint={view.vitals.body[seat]?.down === true}
            />
          ),
        )}
      </svg>
      <figcaption>
        {unseen.length === 0
          ? 'Everybody is in sight.'
          : `In the fog: ${unseen.map((seat) => nameIn(view, seat)).join(', ')}.`}
      </figcaption>
    </figure>
  )
}
