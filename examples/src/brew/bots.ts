import type { Chance, MatchFor, Seat } from 'zinc-referee'
import { type BarrelName, barrelNames, maltPlaces } from './fair.ts'
import type { spoiledBrew } from './rulebook.ts'

export type Brew = MatchFor<typeof spoiledBrew>
type BrewView = ReturnType<Brew['view']>
type Walker = BrewView['brewery']['walkers'][string]

/** What a bot remembers: how each barrel smelt when it last stood there. */
type Memory = Map<BarrelName, number>

/** Bots that know only what their seats see and have smelt. */
export class BrewBots {
  private readonly chance: Chance
  private readonly memories: Map<Seat, Memory> = new Map()

  constructor(chance: Chance) {
    this.chance = chance
  }

  act(match: Brew, seat: Seat): void {
    const view = match.view(seat)
    const memory = this.memories.get(seat) ?? new Map<BarrelName, number>()
    this.memories.set(seat, memory)
    const barrels = Object.values(view.brewery.barrels)
    for (const { name, smell } of barrels) if (smell !== undefined) memory.set(name, smell)
    const isSpoiler = view.roles.seats[seat]?.role === 'spoiler'
    if (view.opening.ballot.open) this.vote(match, view, seat, memory, isSpoiler)
    else this.work(match, view, seat, isSpoiler)
  }

  private work(match: Brew, view: BrewView, seat: Seat, isSpoiler: boolean): void {
    const { barrels: rows, walkers } = view.brewery
    const barrels = Object.values(rows)
    const shut = barrels.flatMap(({ name, opened }) => (opened === null ? name : []))
    const here = barrels.find(({ name }) => name === walkers[seat]?.at)
    const isDone = here?.smell === (isSpoiler ? 0 : 4)
    if (here === undefined || here.opened !== null || (isDone && this.chance.int(1, 3) === 1)) {
      this.walk(match, walkers[seat], seat, shut)
      return
    }
    const alone = Object.values(walkers).filter(({ at }) => at === here.name).length === 1
    // Alone at a barrel everyone would see who has spoilt it.
    const sours = isSpoiler && this.chance.int(1, 10) <= (alone ? 5 : 9)
    match.submit(seat, sours ? 'brewery.sour' : 'brewery.stir', {})
  }

  private walk(match: Brew, own: Walker | undefined, seat: Seat, shut: readonly BarrelName[]): void {
    if (own?.at === null && own.to !== null) return
    const next = this.chance.int(1, 6) === 1 ? this.chance.pick(maltPlaces) : this.chance.pick(shut)
    if (next !== undefined) match.submit(seat, 'brewery.walk', { to: next })
  }

  /** Brewers open what smelt sweetest, spoilers what smelt sourest. */
  private vote(match: Brew, view: BrewView, seat: Seat, memory: Memory, isSpoiler: boolean): void {
    const { ballot, votes } = view.opening
    if (votes[seat]?.voted !== false) return
    const open = barrelNames.filter((name) => ballot.candidates.includes(name))
    const liking = (name: BarrelName): number => (isSpoiler ? -1 : 1) * ((memory.get(name) ?? 2) - 2)
    const most = Math.max(...open.map(liking))
    const best = this.chance.pick(open.filter((name) => liking(name) === most))
    if (best === undefined || (most <= 0 && this.chance.int(1, 2) === 1))
      match.submit(seat, 'opening.abstain', {})
    else match.submit(seat, 'opening.vote', { for: [best] })
  }
}
