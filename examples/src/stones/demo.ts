import { chanceFrom, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { layNext } from './bots.ts'
import { steppingStones } from './rulebook.ts'
import { called } from './water.ts'

const THOUGHT = 2000

/** The demo of Stepping Stones: two seats that go for their lilies, and the pond at the end. */
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
        if (seat !== undefined && drives(seat)) layNext(match, seat, chance)
      },
    }
  },
  tell({ name, cells }, nameOf) {
    switch (name) {
      case 'pond.placed':
        return {
          text: `${nameOf(cells['seat'])} lays`,
          aside: called({ x: Number(cells['x']), y: Number(cells['y']) }),
        }
      case 'turns.ended':
        return cells['why'] === 'stuck'
          ? { text: `${nameOf(cells['seat'])} cannot lay and passes` }
          : undefined
      case 'stones.shown':
        return {
          text: `${nameOf(cells['seat'])} shows the lilies`,
          aside: [cells['lilies']].flat().join(' '),
        }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(steppingStones, match)) return ''
    const initial = (seat: string | undefined): string => seat?.[0] ?? '*'
    const lilyAt = (x: number, y: number): string => initial(match.state.stones.lilies.where({ x, y })[0]?.of)
    const rows = [0, 1, 2, 3, 4, 5].map((y) => {
      const cells = match.state.pond.cells.where({ y }).toSorted((a, b) => a.x - b.x)
      const marks = cells.map(({ x, holder, locked }) =>
        locked ? lilyAt(x, y) : (holder?.[0]?.toUpperCase() ?? '·'),
      )
      return `${y + 1}  ${marks.join(' ')}`
    })
    return ['   a b c d e f   stones O and H, lilies of theirs o and h, other lilies *', ...rows].join('\n')
  },
}
