import { barrelNames, maltPlaces } from '../../../src/brew/fair.ts'
import { useOnlyTheirs } from '../only-there.tsx'
import type { BrewView } from './brew-face.tsx'

const SMELLS = ['sour', 'sourish', 'between', 'sweetish', 'sweet']
const [STEP, STALL] = [120, 75]

/** The fair: five barrels, eight places for malt, and who stands where. */
export function FairGround({ view, viewer }: { readonly view: BrewView; readonly viewer: string | null }) {
  const isTheirs = useOnlyTheirs()
  const barrels = Object.entries(view.brewery.barrels)
  const isOver = view.phases.now.phase === 'over'
  const standing = (place: string) =>
    Object.entries(view.roster.seats).filter(([seat]) => view.brewery.walkers[seat]?.at === place)
  return (
    <figure class="map">
      <svg class="fair-ground" viewBox="0 0 600 250" role="img" aria-label="The fair">
        <rect class="grass" width="600" height="250" rx="8" />
        {barrelNames.map((name, at) => {
          const [id, barrel] = barrels.find(([, each]) => each.name === name) ?? []
          const { smell, malted } = barrel ?? {}
          // What is shut at the end counts as sour.
          const opened = barrel?.opened ?? (isOver ? 'sour' : undefined)
          return (
            <g key={name} transform={`translate(${at * STEP + 60} 62)`}>
              <title>{`${name}: ${opened ?? (smell === undefined ? 'shut' : SMELLS[smell])}`}</title>
              <path
                class={`barrel ${opened ?? 'shut'}`}
                d="M-34 -38 Q0 -46 34 -38 Q44 0 34 38 Q0 46 -34 38 Q-44 0 -34 -38Z"
              />
              <path class="hoop" d="M-39 -18 Q0 -10 39 -18 M-39 18 Q0 26 39 18" />
              {opened === undefined ? (
                smell === undefined ? (
                  <rect class="unsmelt" x="-26" y="-9" width="52" height="20" rx="3" />
                ) : (
                  [0, 1, 2, 3, 4].map((fifth) => (
                    <rect
                      key={fifth}
                      class={fifth <= smell ? 'fifth full' : 'fifth'}
                      x={fifth * 11 - 27}
                      y="-7"
                      width="9"
                      height="16"
                    />
                  ))
                )
              ) : (
                <text class="as" y="6">
                  {barrel?.opened == null ? 'shut' : opened}
                </text>
              )}
              {isTheirs(`brewery.barrels.${id}.smell`) && (
                <rect class="only-theirs-ring" x="-31" y="-13" width="62" height="28" rx="4" />
              )}
              {malted === true && <circle class="malt" cx="28" cy="-30" r="7" />}
              <text class="name" y="60">
                {name}
              </text>
              <Standing seats={standing(name)} viewer={viewer} y={80} />
            </g>
          )
        })}
        {maltPlaces.map((name, at) => (
          <g key={name} transform={`translate(${at * STALL + 38} 195)`}>
            <path class="stall" d="M-22 -8 L0 -22 L22 -8 Z M-18 -8 V10 H18 V-8" />
            <text class="name small" y="7">
              {name}
            </text>
            <Standing seats={standing(name)} viewer={viewer} y={28} />
          </g>
        ))}
      </svg>
    </figure>
  )
}

function Standing({
  seats,
  viewer,
  y,
}: {
  readonly seats: readonly [seat: string, row: { readonly name: string; readonly number: number }][]
  readonly viewer: string | null
  readonly y: number
}) {
  return seats.map(([seat, { name, number }], at) => (
    <g
      key={seat}
      class={`on-map tone-${(number - 1) % 8}`}
      transform={`translate(${(at - (seats.length - 1) / 2) * 22} ${y})`}
    >
      <title>{name}</title>
      {seat === viewer && <circle class="ring" r="12" />}
      <circle r="9.5" />
      <text text-anchor="middle" dominant-baseline="central" font-size="11">
        {[...name][0]?.toUpperCase()}
      </text>
    </g>
  ))
}
