import { type Chance, chanceFrom, isMatchOf, type MatchFor, type Seat } from 'zinc-referee'
import type { Demo } from 'zinc-referee/testing'
import { lanternMarket } from './rulebook.ts'
import { hooks, quay } from './shape.ts'

type Lanterns = MatchFor<typeof lanternMarket>
const THOUGHT = 2500

/** A bot that hangs what it has dipped, dips when it can, and otherwise fetches all it can carry. */
function play(match: Lanterns, chance: Chance, seat: Seat) {
  const hung = chance.pick(match.options(seat, 'market.hang'))
  const shelved = match.options(seat, 'market.shelve')[0]
  if (hung !== undefined) return match.submit(seat, 'market.hang', hung)
  if (shelved !== undefined) return match.submit(seat, 'market.shelve', shelved)
  const dip = chance.pick(match.options(seat, 'market.dip').filter(({ dipped }) => dipped.length === 2))
  const fetched = match.options(seat, 'market.fetch').at(-1)
  if (dip !== undefined && chance.int(1, 4) > 1) return match.submit(seat, 'market.dip', dip)
  if (chance.int(1, 6) === 1 || fetched === undefined) {
    const wish = match.submit(seat, 'market.wish', {})
    if (wish.ok) return wish
  }
  return fetched === undefined
    ? match.submit(seat, 'turns.pass', {})
    : match.submit(seat, 'market.fetch', fetched)
}

/** The demo of Lantern Market: four seats that dip, hang and bid. */
export const lanternDemo: Demo = {
  seed: 'fair-1',
  seats: ['Otter', 'Heron', 'Vole', 'Newt'].map((name) => ({ id: name.toLowerCase(), name })),
  crowd(seed) {
    const chance = chanceFrom(seed, 'lanterns')
    return {
      every: THOUGHT,
      beat(match, drives) {
        if (!isMatchOf(lanternMarket, match)) return
        for (const seat of match.seats.filter(drives)) {
          if (match.state.turns.now.seat === seat && !match.state.turns.now.finished)
            play(match, chance, seat)
          const { asked, chosen } = match.state.lampBid.seats.of(seat)
          if (asked && !chosen) {
            const spare = match.state.wicks.hands.of(seat).count
            match.submit(seat, 'lampBid.choose', { choice: chance.int(0, spare) })
          }
        }
      },
    }
  },
  tell({ name, cells }, nameOf) {
    const who = nameOf(cells['seat'])
    switch (name) {
      case 'market.dipped':
        return { text: `${who} dips ${String(cells['colours']).replaceAll(',', ' and ')}` }
      case 'market.hung':
        return { text: `${who} hangs a lantern`, aside: `${cells['quay']} quay, hook ${cells['hook']}` }
      case 'market.rang':
        return { text: `bell ${cells['bell']} rings`, aside: 'every quay pays' }
      case 'market.granted':
        return { text: `${who} answers a wish`, aside: 'and works once more' }
      default:
        return undefined
    }
  },
  picture(match) {
    if (!isMatchOf(lanternMarket, match)) return ''
    const lanterns = match.state.market.lanterns.all()
    const at = (where: string, hook: number) => {
      const found = lanterns.find((each) => each.quay === where && each.hook === hook)
      return found === undefined ? '·' : (found.holder?.slice(0, 1).toUpperCase() ?? '*')
    }
    const quays = quay.values.map(
      (each) => `${each.padEnd(6)} ${hooks.map((hook) => at(each, hook)).join(' ')}`,
    )
    const seats = match.seats.map((seat) => {
      const { score } = match.state.scores.sums.of(seat)
      return `${seat.padEnd(7)} ${String(score).padStart(3)} points, wicks ${match.state.wicks.hands.of(seat).count}`
    })
    return [...quays, '', ...seats].join('\n')
  },
}
