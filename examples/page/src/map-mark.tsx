import './map-mark.css'

const COLOURS = 8
const SIZE = 11

interface Props {
  readonly x: number
  readonly y: number
  readonly number: number
  readonly name: string
  readonly isOwn: boolean
  /** Down, or out of play for the moment. */
  readonly isFaint?: boolean
  /** Only the viewer to whom you compare yourself sees it. */
  readonly isTheirs?: boolean
  /** In units of the map. */
  readonly size?: number
}

/** A seat's colour, shape and letter on a map; one's own has a ring. */
export function MapMark({
  x,
  y,
  number,
  name,
  isOwn,
  isFaint = false,
  isTheirs = false,
  size = SIZE,
}: Props) {
  const at = Math.max(0, number - 1)
  return (
    <g
      class={`on-map glides tone-${at % COLOURS}`}
      opacity={isFaint ? 0.35 : 1}
      transform={`translate(${x} ${y})`}
    >
      <title>{name}</title>
      {isOwn && <circle class="ring" r={size + 4} />}
      {isTheirs && <circle class="only-theirs" r={size + 6} />}
      <Shape shape={at % 4} size={size} />
      <text text-anchor="middle" dominant-baseline="central" font-size={size * 1.2}>
        {[...name][0]?.toUpperCase() ?? '?'}
      </text>
    </g>
  )
}

function Shape({ shape, size }: { readonly shape: number; readonly size: number }) {
  if (shape === 0) return <circle r={size} />
  if (shape === 1) return <rect x={-size} y={-size} width={2 * size} height={2 * size} rx="2" />
  if (shape === 2)
    return <path d={`M0 ${-size * 1.25} L${size * 1.25} 0 L0 ${size * 1.25} L${-size * 1.25} 0 Z`} />
  return <path d={`M${-size} ${-size} H${size} V${size * 0.3} L0 ${size * 1.25} L${-size} ${size * 0.3} Z`} />
}

/** One's own mark is drawn over the others. */
export const ownLast = <T,>(
  spots: readonly [seat: string, spot: T][],
  viewer: string | null,
): [string, T][] => [...spots].sort(([a], [b]) => Number(a === viewer) - Number(b === viewer))
