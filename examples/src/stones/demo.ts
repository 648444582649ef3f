import { chanceFrom, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { steppingStones } from './rulebook.ts'

const WIDTH = 5
const THOUGHT = 2000
const columns = 'abcde'

/** The demo of Stepping Stones: two seats that lay anywhere they may, and the pond at the end. */
export const stonesDemo: Demo = {
  seed: 'fair-1',
  seats: [
    { id: 'otter', name: 'Otter' },
    { id: 'heron', name: 'Heron' },
  ],
  crowd(seed) {
    const chance = chanceFrom(seed, 'stones')
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(steppingStones, match)) return
        const seat = match.state.turns.now.seat
        if (seat === undefined || !drives(seat)) return
        const spot = chance.pick(match.options(seat, 'stones.lay'))
        if (spot !== undefined) match.submit(seat, 'stones.lay', spot)
      },
    }
  },
  tell({ name, cells }, nameOf) {
    switch (name) {
      case 'pond.placed':
        return {
          text: `${nameOf(cells['seat'])} lays`,
          aside: `${columns[Number(cells['x'])]}${Number(cells['y']) + 1}`,
        }
      case 'turns.ended':
        return cells['why'] === 'stuck'
          ? { text: `${nameOf(cells['seat'])} cannot lay and passes` }
          : undefined
      default:
        return undefined
    }
  },
  picture(match) {
    const pond = isMatchOf(steppingStones, match) ? match.state.pond.cells.all() : []
    const mark = (x: number, y: number): string =>
      pond.find((cell) => cell.x === x && cell.y === y)?.holder?.[0]?.toUpperCase() ?? '·'
    const rows = Array.from(
      { length: WIDTH },
      (_, y) => `${y + 1}  ${Array.from({ length: WIDTH }, (_, x) => mark(x, y)).join(' ')}`,
    )
    return [`   ${[...columns].join(' ')}   O from west to east, H from north to south`, ...rows].join('\n')
  },
}
