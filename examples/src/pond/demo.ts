import { isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { MINNOWS, pikePond } from './rulebook.ts'
import { PondSimulation } from './simulation.ts'
import { pond, reedsAt } from './water.ts'

const STROKE = 200
const [COLUMNS, ROWS] = [72, 12]
const names = [
  'otter',
  'heron',
  'vole',
  'newt',
  'coot',
  'pike',
  'moth',
  'toad',
  'wren',
  'hare',
  'lark',
  'mole',
]

/** The demo of Pike Pond: twelve fish, and the pond at the end as only the server sees it. */
export const pondDemo: Demo = {
  seed: 'fair-1',
  filledTo: 100,
  seats: names.map((id) => ({ id, name: id.replace(/^./, (first) => first.toUpperCase()) })),
  crowd(seed) {
    const simulation = new PondSimulation(seed)
    return {
      every: STROKE,
      beat(match, drives) {
        if (isMatchOf(pikePond, match)) simulation.stroke(match, STROKE, drives)
      },
    }
  },
  board: {
    side: 'teams.side.team',
    bites: 'credit.tally.kills',
    bitten: 'credit.tally.deaths',
    score: 'scores.sums.score',
  },
  tell({ name, cells }, nameOf) {
    switch (name) {
      case 'pond.shines':
        return { text: `${nameOf(cells['seat'])} eats the moonfly`, aside: 'and shines for 8 s' }
      case 'pond.bitten':
        return { text: `${nameOf(cells['by'])} bites ${nameOf(cells['seat'])}` }
      case 'pond.scattered':
        return { text: `${nameOf(cells['seat'])} scatters a shoal` }
      case 'pond.best':
        return { text: `the best fish is ${nameOf(cells['seat'])}`, aside: `${cells['points']} points` }
      case 'rounds.ended':
        return { text: 'time' }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(pikePond, match)) return ''
    const { areas, teams } = match.state
    const map = Array.from({ length: ROWS }, (_, row) =>
      Array.from({ length: COLUMNS }, (_cell, column): string => {
        const spot = { x: ((column + 0.5) / COLUMNS) * pond.width, y: ((row + 0.5) / ROWS) * pond.height }
        return reedsAt(spot) === undefined ? ' ' : '|'
      }),
    )
    const draw = (x: number, y: number, mark: string): void => {
      const row = map[Math.min(ROWS - 1, Math.floor((y / pond.height) * ROWS))]
      row?.splice(Math.min(COLUMNS - 1, Math.floor((x / pond.width) * COLUMNS)), 1, mark)
    }
    for (const { kind, x, y } of areas.things.all()) draw(x, y, kind === 'midge' ? '.' : '*')
    for (const seat of match.allSeats) {
      const { x, y, placed } = areas.spots.of(seat)
      const letter = seat[0] ?? ''
      if (placed) draw(x, y, teams.side.of(seat).team === MINNOWS ? letter : letter.toUpperCase())
    }
    return [
      'minnows small, pikes LARGE, midges . and the moonfly *, reeds |',
      ...map.map((row) => `[${row.join('')}]`),
    ].join('\n')
  },
}
