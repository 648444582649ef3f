import { Matches } from '@zinc-referee/venue/keeping'
import { Circuit } from '../../src/protocol/circuit.ts'
import type { Pace } from '../../src/protocol/options.ts'
import type { Servers } from './storage.ts'
import { tallyMode } from './tally-mode.ts'
import { Machine, type World } from './world.ts'

const silent = { info() {}, warn() {}, error() {} }

interface VenueOptions {
  readonly name: string
  /** Which start of it this is. */
  readonly start: number
  readonly world: World
  readonly servers: Servers
  /** How fast its clock goes. */
  readonly rate: number
  readonly pace: Pace
  readonly isSilent: (name: string) => boolean
  /** Asks another venue to take a match. */
  readonly giveTo: (url: string, match: string) => Promise<boolean>
  readonly log: (text: string) => void
}

/** One venue of the simulation: the code that ships, on a machine that can fail. */
export class Venue {
  readonly name: string
  readonly machine: Machine
  readonly circuit: Circuit
  readonly matches: Matches
  readonly faults: unknown[] = []
  /** Where players reach it. */
  readonly url: string

  constructor({ name, start, world, servers, rate, pace, isSilent, giveTo, log }: VenueOptions) {
    this.name = name
    this.url = `${name}@${start}`
    this.machine = new Machine(world, rate)
    const { clock } = this.machine
    this.circuit = new Circuit({
      storage: servers.for(this.machine),
      clock,
      pace,
      self: () => ({
        name,
        start: String(start),
        url: this.url,
        modes: [tallyMode.name],
        matches: this.matches?.running.length ?? 0,
        max: 100,
        isLeaving: false,
      }),
      // It may be wrong: it is no more than a hint.
      isSilent: async (name) => isSilent(name),
      giveTo: (to, match) => giveTo(to.url, match),
      archive: async () => {},
      happened: (event) => {
        log(`${Math.round(world.now)} ${name}@${start} ${JSON.stringify(event)}`)
        if (event.what === 'broken') this.faults.push(event)
      },
    })
    this.matches = new Matches({
      keeping: undefined,
      keeper: this.circuit,
      rulebooks: [tallyMode],
      clock,
      onFault: (fault) => void this.faults.push(fault),
      max: 100,
      onBroken: (error) => void this.faults.push(error),
      bots: undefined,
      migrate: {},
      log: silent,
      onOver() {},
    })
    this.circuit.join(this.matches)
  }

  /** Its process is killed. */
  kill(): void {
    this.machine.isGone = true
  }
}
