import { type Chance, chanceFrom, type Seat } from 'zinc-referee'
import type { Regatta } from './river.ts'

/** A bot's temper: how often it prefers a fight, in per cent, and the cargo at which it heads for the dock. */
export interface Temper {
  readonly bold: number
  readonly load: number
}
const EVEN: Temper = { bold: 50, load: 2 }

/** Bots that know only their own view, and change their minds every few seconds. */
export class Bots {
  private readonly chance: Chance
  private readonly tempers: ReadonlyMap<Seat, Temper>
  private readonly nextThought: Map<Seat, number> = new Map()

  constructor(seed: string, tempers: ReadonlyMap<Seat, Temper>) {
    this.chance = chanceFrom(seed, 'bots')
    this.tempers = tempers
  }

  think(match: Regatta, seat: Seat): void {
    if (match.now < (this.nextThought.get(seat) ?? 0)) return
    this.nextThought.set(seat, match.now + this.chance.int(4, 12) * 500)
    const view = match.view(seat)
    const { phase } = view.phases.now
    if (phase === 'over' && view.rounds.wishes[seat]?.rematch === false)
      match.submit(seat, 'rounds.rematch', {})
    if (phase === 'lobby' && view.roster.seats[seat]?.ready === false) match.submit(seat, 'roster.ready', {})
    if (phase === 'live' && !view.vitals.body[seat]?.down)
      this.steer(match, seat, view, this.tempers.get(seat) ?? EVEN)
  }

  private steer(match: Regatta, seat: Seat, view: ReturnType<Regatta['view']>, { bold, load }: Temper): void {
    if ((view.raft.hold[seat]?.cargo ?? 0) >= load) match.submit(seat, 'raft.dock', {})
    else if (this.chance.int(1, 100) > bold) match.submit(seat, 'raft.search', {})
    else {
      const quarry = this.weakest(view, seat)
      if (quarry !== undefined) match.submit(seat, 'raft.chase', { quarry })
    }
  }

  /** Returns the most battered foe afloat. Chance decides between equals. */
  private weakest(view: ReturnType<Regatta['view']>, seat: Seat): Seat | undefined {
    const afloat = Object.entries(view.vitals.body).filter(
      ([id, { down }]) =>
        !down &&
        view.areas.spots[id] !== undefined &&
        view.roster.seats[id]?.presence === 'here' &&
        view.teams.side[id]?.team !== view.teams.side[seat]?.team,
    )
    const least = Math.min(...afloat.map(([, { health }]) => health ?? 0))
    return this.chance.pick(afloat.filter(([, { health }]) => (health ?? 0) < least + 30).map(([id]) => id))
  }
}
