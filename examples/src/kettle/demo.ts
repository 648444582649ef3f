import { chanceFrom, formatElapsed, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { hotKettle } from './rulebook.ts'

const GLANCE = 400

/** The demo of Hot Kettle: five seats that hold on for as long as they dare. */
export const kettleDemo: Demo = {
  seed: 'fair-1',
  seats: [
    { id: 'otter', name: 'Otter' },
    { id: 'heron', name: 'Heron' },
    { id: 'vole', name: 'Vole' },
    { id: 'newt', name: 'Newt' },
    { id: 'coot', name: 'Coot' },
  ],
  crowd(seed) {
    const chance = chanceFrom(seed, 'kettle')
    return {
      every: GLANCE,
      beat(match, drives) {
        if (!isMatchOf(hotKettle, match)) return
        const holder = match.state.holds.now.holder.get('kettle')
        if (holder === undefined || !drives(holder) || chance.int(1, 5) > 1) return
        const option = chance.pick(match.options(holder, 'kettle.pass'))
        if (option !== undefined) match.submit(holder, 'kettle.pass', option)
      },
    }
  },
  tell({ name, cells }, nameOf) {
    const who = nameOf(cells['seat'])
    switch (name) {
      case 'kettle.served':
        return { text: 'the kettle is hung up', aside: `over ${who}` }
      case 'holds.passed':
        return cells['why'] === 'passed'
          ? { text: `${nameOf(cells['from'])} hands it on`, aside: `to ${nameOf(cells['to'])}` }
          : undefined
      case 'kettle.boiled':
        return {
          text: `it boils over on ${who}`,
          aside: `held ${formatElapsed(Number(cells['held']))} in all`,
        }
      case 'roster.sidelined':
        return { text: `${who} is out` }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(hotKettle, match)) return ''
    const { holds, respawn } = match.state
    return match.seats
      .map((seat) => {
        const lives = '*'.repeat(respawn.lives.of(seat).left ?? 0) || 'out'
        return `${seat.padEnd(7)} ${lives.padEnd(4)} held the kettle ${formatElapsed(holds.totals.of(seat).held.get('kettle') ?? 0)}`
      })
      .join('\n')
  },
}
