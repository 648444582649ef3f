import { docks, river } from '../../../src/regatta/docks.ts'
import './river-bed.css'

const EDGE = 14
const [LEFT, RIGHT] = [-EDGE, river.width + EDGE]
const [TOP, BOTTOM] = [-EDGE, river.height + EDGE]
const TUFTS = [30, 78, 150, 196, 262, 330, 372, 446, 500, 560]
const RIPPLES = [
  [70, 100],
  [160, 46],
  [210, 150],
  [290, 90],
  [340, 196],
  [410, 60],
  [440, 140],
  [520, 112],
] as const

/** The river between its banks: reeds, the drift of the water, and a jetty for each dock. */
export function RiverBed() {
  return (
    <>
      <rect class="water" x={LEFT} y={TOP} width={RIGHT - LEFT} height={BOTTOM - TOP} rx="8" />
      <path class="deeper" d={`M${LEFT} 96 q150 -34 314 6 t314 -4 v62 q-150 34 -314 -4 t-314 6 Z`} />
      <path class="bank" d={`M${LEFT} ${TOP} H${RIGHT} V2 q-76 12 -157 3 t-157 4 t-157 -3 t-157 2 Z`} />
      <path
        class="bank"
        d={`M${LEFT} ${BOTTOM} H${RIGHT} V236 q-76 -12 -157 -2 t-157 -3 t-157 3 t-157 -2 Z`}
      />
      {TUFTS.map((x, at) => (
        <path key={x} class="reed" d={tuft(x, at % 2 === 0 ? 12 : BOTTOM - 2)} />
      ))}
      {RIPPLES.map(([x, y]) => (
        <path key={x} class="ripple" d={`M${x} ${y} q7 -5 14 0 t14 0 M${x + 9} ${y + 8} q6 -4 12 0`} />
      ))}
      {docks.map(({ name, x, y }) => (
        <Jetty key={name} name={name} x={x} y={y} />
      ))}
    </>
  )
}

/** Planks on posts from the bank into the water, with the dock's name. */
function Jetty({ name, x, y }: { readonly name: string; readonly x: number; readonly y: number }) {
  const isLeft = x < river.width / 2
  const from = isLeft ? LEFT : x - 14
  const length = isLeft ? x + 14 - LEFT : RIGHT - from
  const planks = Array.from({ length: Math.floor(length / 8) }, (_, n) => from + 8 * n + 4)
  return (
    <g class="jetty">
      <title>{name}</title>
      <rect x={from} y={y - 8} width={length} height="16" rx="2" />
      <path d={planks.map((plank) => `M${plank} ${y - 8} v16`).join('')} />
      <circle cx={isLeft ? x + 12 : x - 12} cy={y - 9} r="3" />
      <circle cx={isLeft ? x + 12 : x - 12} cy={y + 9} r="3" />
      <text x={isLeft ? x - 26 : x + 26} y={y + 22} text-anchor={isLeft ? 'start' : 'end'}>
        {name}
      </text>
    </g>
  )
}

const tuft = (x: number, y: number): string =>
  [-8, -3, 2, 7].map((dx, at) => `M${x + dx} ${y} q${at % 2 === 0 ? -3 : 3} -9 ${dx / 3} -17`).join('')
