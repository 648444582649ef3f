import { chanceFrom, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { BrewBots } from './bots.ts'
import { spoiledBrew } from './rulebook.ts'

const THOUGHT = 1000

/** The demo of Spoiled Brew: seven seats, two of them spoilers, and what the clock brings to light. */
export const brewDemo: Demo = {
  seed: 'fair-1',
  seats: ['Otter', 'Heron', 'Vole', 'Newt', 'Coot', 'Moth', 'Toad'].map((name) => ({
    id: name.toLowerCase(),
    name,
  })),
  crowd(seed) {
    const chance = chanceFrom(seed, 'brew')
    const bots = new BrewBots(chance)
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(spoiledBrew, match) || match.state.phases.now.phase !== 'live') return
        for (const seat of chance.shuffle(match.seats)) if (drives(seat)) bots.act(match, seat)
      },
    }
  },
  tell({ name, cells }, nameOf) {
    switch (name) {
      case 'brewery.struck':
        return { text: `the clock strikes: ${cells['strikes']} of 5` }
      case 'brewery.opened':
        return { text: `the ${cells['barrel']} is opened`, aside: String(cells['as']) }
      case 'opening.closed':
        return [cells['winners']].flat().length === 0
          ? { text: 'no barrel is opened', aside: String(cells['why']) }
          : undefined
      case 'roles.revealed':
        return { text: `${nameOf(cells['seat'])} was a ${cells['role']}` }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(spoiledBrew, match)) return ''
    const { barrels, slate } = match.state.brewery
    return barrels
      .all()
      .map(({ name, taste, opened }) => {
        const stirs = match.allSeats.map((seat) => {
          const own = slate.where({ seat }).filter(({ barrel }) => barrel === name)
          return `${seat[0]}${own.reduce((sum, line) => sum + line.stirs, 0)}`
        })
        return `${name.padEnd(7)} ${'#'.repeat(Math.ceil((taste + 1) / 5)).padEnd(20, '.')} ${(opened ?? 'shut').padEnd(8)} stirs ${stirs.join(' ')}`
      })
      .join('\n')
  },
}
