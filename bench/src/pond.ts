import { beginMatch, defineRule, defineRulebook, int } from 'zinc-referee'
import { areasOf } from 'zinc-referee/rules'
import { figure, type Row, ratio, row, timed } from './measure.js'
import { filteredCopies } from './pond-rival.js'

const SEATS = Array.from({ length: 100 }, (_, n) => `fish-${n + 1}`)
const [WIDTH, HEIGHT] = [3000, 1500]
const TICK = 50
const TICKS = 20
/** A rate at which positions are told less often than they change, ms. */
const SELDOM = 200

const bookOf = (every: number) => {
  const waters = areasOf({ near: 160, far: 190, every })
  const laying = defineRule({
    name: 'laying',
    needs: [waters],
    directives: {
      lay: {
        input: { count: int() },
        handle(match, { count }) {
          const chance = match.chance('lay')
          for (let n = 0; n < count; n++)
            match.use(waters).add('midge', { x: chance.int(0, WIDTH), y: chance.int(0, HEIGHT) })
        },
      },
    },
  })
  return defineRulebook({ name: 'pond', seats: { min: 2, max: 100 }, rules: [waters, laying] })
}

const usual = bookOf(TICK)

/** A hundred fish that all swim a little each tick among so many things, each seen by whoever is near. */
function shoal(things: number, book = usual) {
  const match = beginMatch(book, { seed: 'bench' })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  match.direct('phases.start', {})
  match.advanceTo(match.nextDue ?? 0)
  match.direct('laying.lay', { count: things })
  const at = SEATS.map((seat, n) => ({ seat, x: (n * 977) % WIDTH, y: (n * 619) % HEIGHT }))
  match.reportAll('areas.at', at)
  for (const seat of SEATS) match.addViewer(seat)
  match.flush({ all: true })
  const lying = match.state.areas.things.all().map(({ id, x, y }) => ({ id, x, y }))
  const copies = filteredCopies(SEATS, lying)
  let tick = 0
  const moved = () => {
    tick++
    return at.map(({ seat, x, y }, n) => ({
      seat,
      x: x + ((tick * (n % 7)) % 30),
      y: y + ((tick * (n % 5)) % 30),
    }))
  }
  /** Bytes sent to all viewers, and the bytes of all positions for all of them. */
  const swim = (): readonly [sent: number, everything: number] => {
    const moves = moved()
    match.advanceTo(match.now + TICK)
    match.reportAll('areas.at', moves)
    const sent = match.flush().reduce((sum, { patch, latest = '' }) => sum + patch.length + latest.length, 0)
    return [sent, JSON.stringify(moves).length * SEATS.length]
  }
  /** The same by copies of what is near. */
  const swimByCopies = (): number => copies(moved().map(({ seat, x, y }) => ({ id: seat, x, y })))
  return { swim, swimByCopies }
}

const ticks = (swim: () => unknown) => (): number =>
  timed(() => {
    for (let n = 0; n < TICKS; n++) swim()
  })

/** What is sent in a second, and what all positions for everybody would be. */
function sentBy({ swim }: ReturnType<typeof shoal>): readonly [sent: number, everything: number] {
  let [sent, everything] = [0, 0]
  for (let n = 0; n < TICKS; n++) {
    const [ours, all] = swim()
    sent += ours
    everything += all
  }
  if (sent === 0) throw new Error('nothing was sent')
  return [sent, everything]
}

export function pondRows(): Row[] {
  const [many, some, few] = [shoal(1000), shoal(100), shoal(10)]
  const [sent, everything] = sentBy(many)
  const [seldom] = sentBy(shoal(1000, bookOf(SELDOM)))
  return [
    figure('pond/tick', 'ms', { most: 25 }, () => ticks(many.swim)() / TICKS),
    ratio('pondcopies/pond', { least: 1.2 }, ticks(many.swimByCopies), ticks(many.swim), 15),
    ratio('pond100/pond10', { most: 1.3 }, ticks(some.swim), ticks(few.swim), 15),
    ratio('pond1000/pond10', { most: 2 }, ticks(many.swim), ticks(few.swim), 15),
    row('pond/viewer', (sent / SEATS.length / TICKS) * (1000 / TICK), 'bytes/s', { most: 2000 }),
    row('pond200/pond', seldom / sent, '×', { most: 0.5 }),
    row('pond/everything', sent / everything, '×', { most: 0.1 }),
  ]
}
