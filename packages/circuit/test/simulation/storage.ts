import type { Storage } from '../../src/protocol/options.ts'
import {
  type Bucket,
  type MatchStream,
  OutOfSequence,
  type Shelf,
  type Stored,
} from '../../src/protocol/ports.ts'
import type { Dice, Machine, World } from './world.ts'

/** How long a venue waits for an answer, in ms. */
const TIMEOUT = 2000

/** How bad the network is: shares of requests, and ms. */
export interface Weather {
  readonly lost: number
  readonly late: number
  readonly doubled: number
  readonly old: number
  /** How often a message is slow on its way into the stream. */
  readonly slow: number
}

interface Message extends Stored {
  readonly subject: string
  readonly since: number
}

/** A model of the servers: one order of all writes, no answer while there is no quorum, and answers that may be old or lost. */
export class Servers {
  hasQuorum = true
  private readonly bySubject: Map<string, Message[]> = new Map()
  private readonly shelved: Map<string, string> = new Map()
  private readonly buckets: Map<string, { key: string; text: string | undefined; revision: number }[]> =
    new Map()
  private readonly watchers: Set<() => void> = new Set()
  private readonly world: World
  private readonly dice: Dice
  private weather: Weather
  private sequence = 0
  /** Messages that passed the check, and are not in the stream yet. */
  private proposals: (() => void)[] = []
  private isApplying = false

  constructor(world: World, dice: Dice, weather: Weather) {
    this.world = world
    this.dice = dice
    this.weather = weather
  }

  /** From now on every request is answered. */
  calm(): void {
    this.weather = { lost: 0, late: 0, doubled: 0, old: 0, slow: 0 }
  }

  of(subject: string): readonly Message[] {
    return this.bySubject.get(subject) ?? []
  }

  /** There is a quorum again, or a machine is reached again: who watches catches up, and so does what was proposed. */
  wake(): void {
    for (const look of this.watchers) look()
    this.applyNext()
  }

  /** What was proposed is put into the stream in its order, a moment later, and is not looked at again. */
  private applyNext(): void {
    if (this.isApplying || !this.hasQuorum || this.proposals.length === 0) return
    this.isApplying = true
    this.world.after(this.dice.between(0.2, this.dice.chance(this.weather.slow) ? 400 : 3), () => {
      this.isApplying = false
      if (this.hasQuorum) this.proposals.shift()?.()
      this.applyNext()
    })
  }

  for(machine: Machine): Storage {
    return {
      stream: this.streamFor(machine),
      shelf: this.shelfFor(machine),
      members: this.bucketFor(machine, 'members'),
      places: this.bucketFor(machine, 'places'),
    }
  }

  /**
   * Sends a request, and whatever may happen to it happens. With `apply`, `act` only checks it, and its result is that of
   * `apply`, later, unless the check has one.
   */
  private ask<T>(machine: Machine, act: () => T | undefined, apply?: () => T): Promise<T> {
    const { dice, world, weather } = this
    return new Promise((resolve, reject) => {
      const callOff = machine.clock.wakeAfter(TIMEOUT, () => reject(new Error('no answer')))
      const isLate = (): boolean => dice.chance(weather.late)
      const arrive = (answers: boolean): void => {
        // A leader without a quorum takes what comes, and nobody knows whether that will ever be in the stream.
        if (machine.isCutOff || (!this.hasQuorum && (apply === undefined || dice.chance(0.7)))) return
        const send = (answer: () => void): void => {
          if (!answers || dice.chance(weather.lost)) return
          world.after(isLate() ? dice.between(500, 4000) : dice.between(0.2, 2), () => {
            if (machine.isCutOff) return
            machine.do(() => {
              callOff()
              answer()
            })
          })
        }
        try {
          const result = act()
          if (apply === undefined || result !== undefined) send(() => resolve(result as T))
          else {
            this.proposals.push(() => {
              const applied = apply()
              send(() => resolve(applied))
            })
            this.applyNext()
          }
        } catch (error) {
          if (this.hasQuorum) send(() => reject(error))
        }
      }
      if (machine.isGone || machine.isCutOff || dice.chance(weather.lost)) return
      world.after(isLate() ? dice.between(500, 6000) : dice.between(0.2, 2), () => arrive(true))
      if (dice.chance(weather.doubled)) world.after(dice.between(1, 8000), () => arrive(false))
    })
  }

  private streamFor(machine: Machine): MatchStream {
    return {
      // As the servers do: what is on its way into the stream is not seen by the check, neither by its id nor by its subject.
      publish: (subject, id, text, expected) =>
        this.ask<number>(
          machine,
          () => {
            const of = this.of(subject)
            const same = of.findLast((message) => message.id === id)
            if (same !== undefined) return same.sequence
            if ((of.at(-1)?.sequence ?? 0) !== expected) throw new OutOfSequence()
            return undefined
          },
          () => {
            const message = { subject, id, text, sequence: ++this.sequence, since: this.world.now }
            const of = this.bySubject.get(subject)
            if (of === undefined) this.bySubject.set(subject, [message])
            else of.push(message)
            return message.sequence
          },
        ),
      last: (subject) => this.ask(machine, () => this.seen(subject).at(-1)),
      next: (subject, sequence) =>
        this.ask(machine, () => this.of(subject).find((message) => message.sequence >= sequence)),
      at: (sequence) =>
        this.ask(machine, () =>
          [...this.bySubject.values()].flat().find((message) => message.sequence === sequence),
        ),
      remove: (subject, until) =>
        this.ask(machine, () => {
          const left = this.of(subject).filter(({ sequence }) => sequence > until)
          this.bySubject.set(subject, left)
        }),
    }
  }

  /** What is there, or what was there a moment ago. */
  private seen(subject: string): readonly Message[] {
    const age = this.dice.chance(this.weather.old) ? this.dice.between(0, 5000) : 0
    if (age === 0) return this.of(subject)
    return this.of(subject).filter(({ since }) => since <= this.world.now - age)
  }

  private shelfFor(machine: Machine): Shelf {
    return {
      put: (name, text) => this.ask(machine, () => void this.shelved.set(name, text)),
      get: (name) => this.ask(machine, () => this.shelved.get(name)),
      remove: (name) => this.ask(machine, () => void this.shelved.delete(name)),
    }
  }

  private bucketFor(machine: Machine, name: string): Bucket {
    const log = this.buckets.get(name) ?? []
    this.buckets.set(name, log)
    const current = (key: string) => log.findLast((entry) => entry.key === key)
    const add = (key: string, text: string | undefined): number => {
      log.push({ key, text, revision: log.length + 1 })
      this.wake()
      return log.length
    }
    return {
      get: (key) =>
        this.ask(machine, () => {
          const { text, revision = 0 } = current(key) ?? {}
          return text === undefined ? undefined : { text, revision }
        }),
      put: (key, text) => this.ask(machine, () => void add(key, text)),
      replace: (key, text, revision) =>
        this.ask(machine, () => {
          const now = current(key)
          if ((now?.text === undefined ? 0 : now.revision) !== revision) throw new OutOfSequence()
          return add(key, text)
        }),
      remove: (key) => this.ask(machine, () => void add(key, undefined)),
      watch: (seen) => {
        let next = 0
        let isUnderWay = false
        const look = (): void => {
          if (isUnderWay || next >= log.length || machine.isGone || machine.isCutOff || !this.hasQuorum)
            return
          isUnderWay = true
          this.world.after(this.dice.between(0.2, 5), () => {
            isUnderWay = false
            if (machine.isCutOff || !this.hasQuorum) return
            const { key, text } = log[next++] as { key: string; text: string | undefined }
            machine.do(() => seen(key, text))
            look()
          })
        }
        this.watchers.add(look)
        look()
        return () => void this.watchers.delete(look)
      },
    }
  }
}
