import { replayRecord } from 'zinc-referee'
import { Chain } from '../../src/protocol/chain.ts'
import { type Pace, usualPace } from '../../src/protocol/options.ts'
import { subjectOf } from '../../src/protocol/subjects.ts'
import { Player } from './player.ts'
import { Servers } from './storage.ts'
import { tallyMode } from './tally-mode.ts'
import { Venue } from './venue.ts'
import { dice, World } from './world.ts'

const TROUBLES = ['kill', 'freeze', 'cut off', 'no quorum', 'hand over', 'same name', 'line lost'] as const
type Trouble = (typeof TROUBLES)[number]
const MATCH = 'fair'
const SEATS = ['otter', 'heron', 'vole']
/** Until then everything may go wrong, in ms; from then on nothing does. */
const STORM = 30_000
/** How long it may take from then on until every player has done what it wanted. */
const CALM = 60_000

/**
 * Plays one history of a circuit with three venues, from its seed: what goes wrong, and when. Returns the law that it breaks, in
 * words; undefined if it breaks none.
 */
export async function historyOf(
  seed: number,
  log: (text: string) => void = () => {},
): Promise<string | undefined> {
  const chance = dice(seed)
  const world = new World()
  const bad = chance.chance(0.5) ? 0.04 : 0
  const servers = new Servers(world, chance, {
    lost: bad,
    late: bad,
    doubled: bad * 2,
    old: chance.chance(0.5) ? 0.1 : 0,
    slow: chance.pick([0.02, 0.1, 0.4]),
  })
  const pace: Pace = { ...usualPace, snapshotEvery: chance.pick([5, 12, 1000]) }
  const venues: Venue[] = []
  let starts = 0
  const isSilent = (name: string): boolean =>
    chance.chance(0.1) ||
    !venues.some(({ name: other, machine }) => other === name && !machine.isGone && !machine.isCutOff)
  const giveTo = (url: string, match: string): Promise<boolean> =>
    new Promise((answer) => {
      const later = (act: () => void): void => {
        if (!chance.chance(0.1)) world.after(chance.between(0.2, chance.chance(0.1) ? 8000 : 3), act)
      }
      const venue = alive().find((each) => each.url === url && !each.machine.isCutOff)
      later(() =>
        venue?.machine.do(async () => {
          const isTaken = await venue.circuit.take(match)
          later(() => answer(isTaken))
        }),
      )
    })
  const start = (name: string): void => {
    const rate = chance.pick([1, 1, 0.5, 1.5])
    venues.push(new Venue({ name, start: ++starts, world, servers, rate, pace, isSilent, giveTo, log }))
  }
  for (const name of ['north', 'south', 'west']) start(name)
  const alive = () => venues.filter(({ machine }) => !machine.isGone)
  const find = (): Venue | undefined => {
    const any = chance.pick(alive())
    const url = any?.circuit.whereIs(MATCH)?.url
    return alive().find((venue) => venue.url === url)
  }
  const [first] = venues as [Venue]
  first.matches.begin(MATCH, tallyMode, { seed: String(seed), settings: { phases: { countdown: 0 } } })
  const players = SEATS.map((seat) => {
    const most = chance.pick([5, 20, 40])
    return new Player({ seat, match: MATCH, most, world, dice: chance, find })
  })

  const cause = (what: Trouble, venue: Venue): void => {
    const { machine, circuit } = venue
    const lasts = chance.between(200, 15_000)
    log(`${Math.round(world.now)} ${what} ${venue.url}, ${Math.round(lasts)} ms`)
    switch (what) {
      case 'kill':
        venue.kill()
        world.after(chance.between(100, 8000), () => start(venue.name))
        break
      case 'freeze':
        machine.freeze()
        world.after(lasts, () => machine.thaw())
        break
      case 'cut off':
        machine.isCutOff = true
        world.after(lasts, () => {
          machine.isCutOff = false
          servers.wake()
        })
        break
      case 'no quorum':
        servers.hasQuorum = false
        world.after(lasts, () => {
          servers.hasQuorum = true
          servers.wake()
        })
        break
      case 'hand over': {
        const to = chance.pick(circuit.members.live)
        machine.do(() => void circuit.handOver(MATCH, to))
        break
      }
      case 'same name':
        start(venue.name)
        break
      case 'line lost':
        chance.pick(players).connect()
    }
  }
  const trouble = (): void => {
    const venue = chance.pick(alive())
    if (venue !== undefined) cause(chance.pick(TROUBLES), venue)
    if (world.now < STORM) world.after(chance.between(200, 6000), trouble)
  }
  world.after(chance.between(0, 3000), trouble)
  await world.run(STORM + 15_000)
  servers.calm()
  const ready = (): boolean => players.every(({ isContent }) => isContent)
  await world.run(STORM + 15_000 + CALM, ready)
  const broken = lawsBroken()
  for (const venue of alive()) venue.kill()
  return broken

  function lawsBroken(): string | undefined {
    const late = players.find(({ isContent }) => !isContent)
    const fault = venues.flatMap(({ faults }) => faults)[0]
    if (fault !== undefined) return `a venue failed: ${JSON.stringify(fault)}`
    const chain = new Chain()
    const messages = servers.of(subjectOf(MATCH)).flatMap((stored) => chain.take(stored) ?? [])
    const owners = new Map<number, string>()
    let lines = 0
    let epoch = 0
    for (const message of messages) {
      if (message.from !== lines) return `lines ${lines} to ${message.from} are missing`
      if (message.epoch < epoch) return `epoch ${message.epoch} is behind epoch ${epoch}`
      if ((owners.get(message.epoch) ?? message.by) !== message.by)
        return `two venues wrote in epoch ${message.epoch}`
      owners.set(message.epoch, message.by)
      lines += message.lines.length
      epoch = message.epoch
    }
    // Its venue was lost before the match had begun.
    if (messages.length === 0 && players.every(({ shown }) => shown.length === 0)) return undefined
    if (late !== undefined) return `${late.seat} has done ${late.done.size}, and waits`
    const text = `${messages.flatMap((message) => message.lines).join('\n')}\n`
    const views = new Map(SEATS.map((seat) => [seat, new Map<string, number[]>()]))
    let at = 0
    const replayed = replayRecord(tallyMode, text, {
      onLine(_, match) {
        at++
        for (const seat of SEATS) {
          if (!match.allSeats.includes(seat)) continue
          const view = JSON.stringify(match.view(seat))
          const seen = views.get(seat) as Map<string, number[]>
          seen.set(view, [...(seen.get(view) ?? []), at])
        }
      },
    })
    if (replayed.differs !== undefined)
      return `the record does not replay: ${JSON.stringify(replayed.differs)}`
    for (const { seat, sent, shown } of players) {
      const count = (replayed.match.state as any).tally.counts.of(seat).all
      if (count !== sent) return `${seat} has done ${sent} things, and the record has ${count}`
      let shownAt = 0
      for (const { view, where } of shown) {
        const times = views.get(seat)?.get(view)
        if (times === undefined) return `${seat} was shown at ${where} what never was: ${view}`
        const next = times.find((time) => time >= shownAt)
        if (next === undefined) return `${seat} was shown at ${where} what was long ago: ${view}`
        shownAt = next
      }
    }
    return undefined
  }
}
