import { chanceFrom, isMatchOf } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { musselDip } from './rulebook.ts'

const THOUGHT = 3000
const ROW = 6

/** The demo of Mussel Dip: three seats that peek now and then, lift, and name a place when the tide is in. */
export const musselsDemo: Demo = {
  seed: 'fair-1',
  seats: [
    { id: 'otter', name: 'Otter' },
    { id: 'heron', name: 'Heron' },
    { id: 'newt', name: 'Newt' },
  ],
  crowd(seed) {
    const chance = chanceFrom(seed, 'mussels')
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(musselDip, match)) return
        const { question } = match.state.naming
        for (const seat of match.seats) {
          if (!drives(seat)) continue
          const { chosen } = match.state.naming.seats.of(seat)
          if (question.open && !chosen) {
            const places = chance.shuffle(match.state.dip.mussels.all().map(({ place }) => place))
            match.submit(seat, 'naming.choose', { choice: places.slice(0, 2) })
          } else if (match.state.turns.now.seat === seat) {
            const what = chance.int(1, 4) === 1 ? 'dip.peek' : 'dip.lift'
            const option = chance.pick(match.options(seat, what))
            if (option !== undefined) match.submit(seat, what, option)
            return
          }
        }
      },
    }
  },
  tell({ name, cells }, nameOf) {
    const who = nameOf(cells['seat'])
    switch (name) {
      case 'dip.peeked':
        return { text: `${who} peeks`, aside: `at ${cells['place']}` }
      case 'dip.lifted':
        return {
          text: `${who} lifts a ${cells['kind']}`,
          aside: cells['kept'] === true ? 'and keeps it' : `at ${cells['place']}`,
        }
      case 'dip.mixed':
        return { text: 'the tide goes out' }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(musselDip, match)) return ''
    const mussels = match.state.dip.mussels.all()
    const rows = [0, 1, 2, 3].map((row) =>
      Array.from({ length: ROW }, (_, n) => {
        const lies = mussels.some(({ place }) => place === row * ROW + n + 1)
        return lies ? String(row * ROW + n + 1).padStart(2) : ' ·'
      }).join(' '),
    )
    const lists = match.seats.map((seat) => {
      const { wishes, found } = match.state.dip.lists.of(seat)
      return `${seat.padEnd(7)} wished ${wishes.join(', ')}; found ${found.join(', ') || 'none'}`
    })
    return [...rows, '', ...lists].join('\n')
  },
}
