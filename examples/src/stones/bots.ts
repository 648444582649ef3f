import type { Chance, MatchFor, Seat } from 'zinc-referee'
import { around, type Spot, spotsOf } from 'zinc-referee/rules'
import type { steppingStones } from './rulebook.ts'
import { areBeside, called, water } from './water.ts'

type StonesMatch = MatchFor<typeof steppingStones>

/** What a seat goes by: its own lilies, and who holds which cell. */
interface Known {
  readonly own: readonly Spot[]
  readonly open: readonly Spot[]
  readonly lilies: readonly Spot[]
}

function knownTo(match: StonesMatch, seat: Seat): Known {
  const cells = match.state.pond.cells.all()
  return {
    own: cells.filter(({ holder }) => holder === seat),
    open: cells.filter(({ holder, locked }) => holder === undefined && !locked),
    lilies: match.state.stones.lilies.where({ of: seat }),
  }
}

/** The cells still to be laid on the cheapest way that joins one's lilies, one after another. */
function plan({ own, open, lilies }: Known, chance: Chance): readonly Spot[] {
  const wanted: Spot[] = []
  let line: readonly Spot[] = own
  for (const lily of chance.shuffle(lilies)) {
    if (line.some((spot) => areBeside(spot, lily))) continue
    const way = wayTo(line.length === 0 ? open : line, lily, [...own, ...open], own)
    wanted.push(...way)
    line = [...line, ...way]
  }
  return wanted
}

/** The cheapest way by sides from some cells to one beside the lily: own cells cost nothing. Empty if there is none. */
function wayTo(from: readonly Spot[], lily: Spot, passable: readonly Spot[], own: readonly Spot[]): Spot[] {
  const isOwn = new Set(own.map(called))
  const isPassable = new Set(passable.map(called))
  const best = new Map(from.map((spot) => [called(spot), isOwn.has(called(spot)) ? [] : [spot]]))
  let edge = [...from]
  while (edge.length > 0) {
    const next: Spot[] = []
    for (const spot of edge)
      for (const side of around(spot, water)) {
        if (!isPassable.has(called(side))) continue
        const way = [...(best.get(called(spot)) ?? []), ...(isOwn.has(called(side)) ? [] : [side])]
        const known = best.get(called(side))
        if (known !== undefined && known.length <= way.length) continue
        best.set(called(side), way)
        next.push(side)
      }
    edge = next
  }
  const ways = spotsOf(water).flatMap((spot) => {
    const way = areBeside(spot, lily) ? best.get(called(spot)) : undefined
    return way === undefined ? [] : [way]
  })
  return ways.sort((a, b) => a.length - b.length)[0] ?? []
}

/** Lays where its lilies need a stone, or anywhere if nothing can be joined any more. */
export function layNext(match: StonesMatch, seat: Seat, chance: Chance): void {
  const options = match.options(seat, 'stones.lay')
  const wanted = plan(knownTo(match, seat), chance)
  const useful = options.filter((spot) => wanted.some((each) => called(each) === called(spot)))
  const spot = chance.pick(useful) ?? chance.pick(options)
  if (spot !== undefined) match.submit(seat, 'stones.lay', spot)
}
