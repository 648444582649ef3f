import { useEffect, useMemo, useRef } from 'preact/hooks'
import { formatElapsed } from 'zinc-referee'
import type { Looked } from './data.ts'

const [LANE, BAR, LABEL] = [24, 7, 92]

/** Lanes of the match, and where in it the shown moment is. A click goes to its moment. */
export function Lanes({
  record,
  position,
  go,
}: {
  readonly record: Looked
  readonly position: number
  readonly go: (position: number) => void
}) {
  const { entries, seats, timers } = record
  const names = useMemo(() => [...new Set(timers.map(({ name }) => name))], [timers])
  const height = seats.length * LANE + names.length * (BAR + 3) + 18
  const end = Math.max(1, entries.at(-1)?.at ?? 1)
  const share = (entries[position]?.at ?? 0) / end
  return (
    <div class="lanes" style={{ height: `${height}px` }}>
      {useMemo(
        () => (
          <Drawn record={record} names={names} height={height} go={go} />
        ),
        [record],
      )}
      <div class="cursor" style={{ left: `calc(${LABEL}px + (100% - ${LABEL}px) * ${share})` }} />
    </div>
  )
}

/** What each seat did, its score as a line, timers as bars. They are drawn once, and when the size or the colours change. */
function Drawn({
  record,
  names,
  height,
  go,
}: {
  readonly record: Looked
  readonly names: readonly string[]
  readonly height: number
  readonly go: (position: number) => void
}) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const on = canvas.current
    if (on === null) return
    const draw = (): void => drawLanes(on, record, names, height)
    const watch = new ResizeObserver(draw)
    watch.observe(on)
    const scheme = matchMedia('(prefers-color-scheme: dark)')
    scheme.addEventListener('change', draw)
    return () => {
      watch.disconnect()
      scheme.removeEventListener('change', draw)
    }
  }, [record])
  const end = Math.max(1, record.entries.at(-1)?.at ?? 1)
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={`What ${record.seats.length} seats did until ${formatElapsed(end)}; the slider moves through it`}
      onClick={({ offsetX, currentTarget }) =>
        go(nearest(record, ((offsetX - LABEL) / (currentTarget.clientWidth - LABEL)) * end))
      }
    />
  )
}

/** The last position at a time. */
export function nearest({ entries }: Looked, at: number): number {
  let found = 0
  for (const [position, entry] of entries.entries())
    if (entry.at <= at) found = position
    else break
  return found
}

function drawLanes(
  canvas: HTMLCanvasElement,
  record: Looked,
  names: readonly string[],
  height: number,
): void {
  const { entries, seats, timers, scores } = record
  const width = canvas.clientWidth
  const ratio = devicePixelRatio
  canvas.width = width * ratio
  canvas.height = height * ratio
  const pen = canvas.getContext('2d')
  if (pen === null) return
  pen.scale(ratio, ratio)
  const style = getComputedStyle(canvas)
  const colour = (name: string): string => style.getPropertyValue(`--${name}`)
  const end = Math.max(1, entries.at(-1)?.at ?? 1)
  const x = (position: number): number => LABEL + ((entries[position]?.at ?? 0) / end) * (width - LABEL - 2)
  pen.font = '12px system-ui'
  pen.textBaseline = 'middle'
  for (const [lane, seat] of seats.entries()) {
    const middle = lane * LANE + LANE / 2
    pen.fillStyle = colour('ink')
    pen.fillText(seat, 4, middle, LABEL - 10)
    pen.fillStyle = colour('line')
    pen.fillRect(LABEL, (lane + 1) * LANE - 1, width - LABEL, 1)
    for (const [position, entry] of entries.entries()) {
      if (entry.seat === seat) mark(pen, x(position), middle - 4, entry.refused !== undefined, colour)
      if (entry.raised?.some(([, of]) => of === seat)) {
        pen.fillStyle = colour('lantern')
        pen.fillRect(x(position) - 1, middle + 5, 2, 4)
      }
    }
    scoreLine(pen, scores[seat] ?? [], {
      x,
      top: lane * LANE + 3,
      width,
      most: mostOf(scores),
      colour: colour('accent'),
    })
  }
  const top = seats.length * LANE + 4
  pen.font = '10px system-ui'
  for (const [row, name] of names.entries()) {
    const at = top + row * (BAR + 3)
    pen.fillStyle = colour('soft')
    pen.fillText(name, 4, at + BAR / 2, LABEL - 10)
    for (const timer of timers)
      if (timer.name === name) {
        pen.fillStyle = colour(timer.end === 'due' ? 'accent' : timer.end === 'stopped' ? 'clay' : 'silt')
        pen.fillRect(x(timer.from), at, Math.max(1.5, x(timer.until) - x(timer.from)), BAR - 2)
      }
  }
}

/** An input is a tick, a refused one a cross. */
function mark(
  pen: CanvasRenderingContext2D,
  x: number,
  y: number,
  isRefused: boolean,
  colour: (name: string) => string,
): void {
  pen.strokeStyle = colour(isRefused ? 'clay' : 'soft')
  pen.lineWidth = 1
  pen.beginPath()
  pen.moveTo(x - (isRefused ? 3 : 0), y - 4)
  pen.lineTo(x + (isRefused ? 3 : 0), y + 4)
  if (isRefused) {
    pen.moveTo(x + 3, y - 4)
    pen.lineTo(x - 3, y + 4)
  }
  pen.stroke()
}

const mostOf = (scores: Looked['scores']): number =>
  Math.max(1, ...Object.values(scores).flatMap((line) => line.map(([, score]) => score)))

function scoreLine(
  pen: CanvasRenderingContext2D,
  line: readonly (readonly [position: number, score: number])[],
  on: {
    readonly x: (position: number) => number
    readonly top: number
    readonly width: number
    readonly most: number
    readonly colour: string
  },
): void {
  if (line.length === 0) return
  const y = (score: number): number => on.top + (LANE - 7) * (1 - Math.max(0, score) / on.most)
  pen.strokeStyle = on.colour
  pen.lineWidth = 1.5
  pen.beginPath()
  pen.moveTo(LABEL, y(0))
  let before = 0
  for (const [position, score] of line) {
    pen.lineTo(on.x(position), y(before))
    pen.lineTo(on.x(position), y(score))
    before = score
  }
  pen.lineTo(on.width, y(before))
  pen.stroke()
}
