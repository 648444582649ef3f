import { chanceFrom, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { kettleWatch } from './rulebook.ts'

const GLANCE = 500

/** The demo of Kettle Watch: five seats that hold on for as long as they dare, and take what is left too long. */
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
        if (!isMatchOf(kettleWatch, match)) return
        for (const seat of chance.shuffle(match.seats)) {
          if (!drives(seat)) continue
          // The hotter it feels, the sooner it is handed on; who sits beside it takes it now and then.
          const { heat } = match.state.kettle.paws.of(seat)
          if (heat === undefined) {
            if (chance.int(1, 12) === 1) match.submit(seat, 'kettle.take', {})
          } else if (chance.int(1, 20) <= 1 + heat * heat) {
            const option = chance.pick(match.options(seat, 'kettle.hand'))
            if (option !== undefined) match.submit(seat, 'kettle.hand', option)
          }
        }
      },
    }
  },
  tell({ name, cells }, nameOf) {
    const who = nameOf(cells['seat'])
    switch (name) {
      case 'holds.passed':
        return cells['why'] === 'taken' ? { text: `${nameOf(cells['to'])} has the first watch` } : undefined
      case 'kettle.counted':
        return { text: `${who} counts ${cells['cups']}`, aside: cells['cups'] === 1 ? 'cup' : 'cups' }
      case 'kettle.taken':
        return { text: `${who} takes the kettle`, aside: `from ${nameOf(cells['from'])}` }
      case 'kettle.boiled':
        return { text: `it boils over on ${who}`, aside: `${cells['spilt']} spilt` }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(kettleWatch, match)) return ''
    return match.seats
      .map((seat) => {
        const cups = match.state.scores.sums.of(seat).score
        return `${seat.padEnd(7)} ${String(cups).padStart(3)}  ${'u'.repeat(Math.round(cups / 2))}`
      })
      .join('\n')
  },
}
