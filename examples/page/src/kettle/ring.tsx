import type { KettleView } from './kettle-face.tsx'

const WIDE = 118
const HIGH = 74
/** Cups in a row under who fills them, of two rows. */
const IN_ROW = 6

/** The ring round the fire at night: who sits where, the kettle in somebody's paws, and the cups that it fills. */
export function Ring({
  view,
  viewer,
  holder,
  filled,
  heat,
}: {
  readonly view: KettleView
  readonly viewer: string | null
  readonly holder: string | undefined
  readonly filled: number
  /** In fifths; nothing for those who do not feel it. */
  readonly heat: number | undefined
}) {
  const seats = Object.entries(view.roster.seats)
  const placed = seats.map(([seat, row], at) => {
    const turn = (at / seats.length) * 2 * Math.PI - Math.PI / 2
    return { seat, row, x: Math.cos(turn) * WIDE, y: Math.sin(turn) * HIGH }
  })
  const at = placed.find(({ seat }) => seat === holder)
  return (
    <figure class="map by-night">
      <svg class="ring-view" viewBox="-165 -120 330 240" role="img" aria-label="The ring round the fire">
        <rect class="night" x="-165" y="-120" width="330" height="240" rx="8" />
        <ellipse class="glow" rx="62" ry="42" />
        <path class="log" d="M-26 20 L26 12 M-26 12 L26 20" />
        <path class="flame" d="M-16 14 Q-25 -12 -3 -32 Q-1 -13 9 -20 Q25 0 15 14 Z" />
        <path class="flame inner" d="M-8 14 Q-12 0 0 -13 Q1 -3 6 -7 Q13 5 8 14 Z" />
        {placed.map(({ seat, row, x, y }) => (
          <g key={seat} class={`on-map tone-${(row.number - 1) % 8}`} opacity={row.sidelined ? 0.35 : 1}>
            <title>{row.name}</title>
            {seat === viewer && <circle class="ring" cx={x} cy={y} r="20" />}
            <circle cx={x} cy={y} r="16" />
            <text x={x} y={y} text-anchor="middle" dominant-baseline="central" font-size="16">
              {[...row.name][0]?.toUpperCase()}
            </text>
          </g>
        ))}
        {at !== undefined && (
          <g class="kettle" style={{ transform: `translate(${at.x * 0.68}px, ${at.y * 0.62}px)` }}>
            <path class="pot" d="M-11 -4 Q-11 10 0 10 Q11 10 11 -4 Z" />
            <path class="handle" d="M-10 -4 Q0 -20 10 -4" />
            <path class="pot" d="M10 0 L18 -6 L19 -3 L11 5 Z" />
            {Array.from({ length: heat ?? 0 }, (_, n) => (
              <path key={n} class="steam" d={`M${n * 5 - 8} -14 q-4 -5 0 -9 q4 -5 0 -9`} />
            ))}
          </g>
        )}
        {at !== undefined && (
          <g transform={`translate(${at.x}, ${at.y + 22})`}>
            {Array.from({ length: Math.min(filled, 2 * IN_ROW) }, (_, n) => (
              <path
                key={n}
                class="cup"
                d={`M${(n % IN_ROW) * 11 - Math.min(filled, IN_ROW) * 5.5} ${Math.floor(n / IN_ROW) * 11} h9 l-2 9 h-5 Z`}
              />
            ))}
          </g>
        )}
      </svg>
    </figure>
  )
}
