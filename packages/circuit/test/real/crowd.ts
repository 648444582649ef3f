import { isDeepStrictEqual } from 'node:util'
import { kettleWatch, musselDip, steppingStones } from '@zinc-referee/examples'
import { type Client, connect } from '@zinc-referee/venue/client'
import { WebSocket } from 'ws'
import { type AnyRulebook, readRecord, replayRecord } from 'zinc-referee'
import { anyMove } from '../../../venue/test/any-move.ts'
import { BrokenMatch, Chain, messagesAfter } from '../../src/protocol/chain.ts'
import type { MatchStream, Stored } from '../../src/protocol/ports.ts'
import { wholeMatch } from '../../src/protocol/read-match.ts'
import { subjectOf } from '../../src/protocol/subjects.ts'
import { type Dice, dice } from '../simulation/world.ts'
import { answered, soon } from './faults.ts'

const BOOKS: readonly (readonly [AnyRulebook, seats: number])[] = [
  [steppingStones, 2],
  [musselDip, 3],
  [kettleWatch, 4],
]
const SEATS = ['Otter', 'Heron', 'Vole', 'Newt']
const bookOf = (match: number) => BOOKS[match % BOOKS.length] as (typeof BOOKS)[number]
const idOf = (match: number): string => `m${match}`

/** A player who does anything that it may do, with the client that ships. */
class Player {
  client!: Client<any>
  /** Actions that were answered with yes, and those that have no answer yet. */
  done = 0
  waiting = 0
  /** The latest answer, by `performance.now()`. */
  answeredAt = 0
  readonly match: number
  private readonly name: string
  private readonly chance: Dice

  constructor(match: number, name: string, chance: Dice) {
    this.match = match
    this.name = name
    this.chance = chance
  }

  async enter(port: number): Promise<void> {
    this.client = await connect<any>({
      url: `ws://127.0.0.1:${port}/socket`,
      match: idOf(this.match),
      name: this.name,
      WebSocket,
      changed() {},
      ended() {},
      wait: (ms) => soon(ms / 4),
    })
  }

  act(always = false): void {
    if (this.waiting > 0 || this.client.state === 'ended') return
    const choice = anyMove(this.client.view, this.chance.pick)
    if (choice === undefined && !always) return
    this.waiting++
    // What is refused is answered, too.
    this.client.act(choice?.action ?? 'roster.ready', choice?.input ?? {}).then(
      ({ ok }) => {
        this.waiting--
        this.answeredAt = performance.now()
        if (ok) this.done++
      },
      () => this.waiting--, // refused: the match stood still
    )
  }
}

/** All players of some matches. */
export class Crowd {
  readonly players: readonly Player[]
  private readonly matches: number
  private readonly chance: Dice
  private isPlaying = false
  /** What was read of each match, so that a long run does not read all of it again and again. */
  private readonly read = new Map<number, Stored[]>()

  constructor(matches: number, seed: number) {
    this.matches = matches
    this.chance = dice(seed)
    this.players = Array.from({ length: matches }, (_, match) =>
      SEATS.slice(0, bookOf(match)[1]).map((name) => new Player(match, name, this.chance)),
    ).flat()
  }

  /** How many clients are in which state, and with how many actions under way. */
  get standing(): object {
    const counts: { [state: string]: number } = {}
    for (const { client, waiting } of this.players) {
      const state = `${client.state} ${waiting}`
      counts[state] = (counts[state] ?? 0) + 1
    }
    return counts
  }

  get done(): number {
    return this.players.reduce((sum, { done }) => sum + done, 0)
  }

  /** Begins the matches at these venues, and sits down. */
  async enter(ports: readonly number[]): Promise<void> {
    for (let match = 0; match < this.matches; match++) {
      const body = {
        mode: bookOf(match)[0].name,
        id: idOf(match),
        seed: `fair-${match}`,
        emptyFor: null,
        settings: { phases: { countdown: 100, linger: 0 } },
      }
      const answer = await fetch(`http://127.0.0.1:${this.chance.pick(ports)}/matches`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
      if (answer.status !== 201) throw new Error(await answer.text())
    }
    for (const player of this.players) await player.enter(this.chance.pick(ports))
  }

  /** Plays until `stop`. */
  async play(everyMs: number): Promise<void> {
    this.isPlaying = true
    while (this.isPlaying) {
      for (let n = 0; n < 1 + this.players.length / 20; n++) this.chance.pick(this.players).act()
      await soon(everyMs)
    }
  }

  stop(): void {
    this.isPlaying = false
  }

  /** Resolves with how long it took until every match has answered somebody after now, in ms. */
  async allGoOn(within: number): Promise<number> {
    const began = performance.now()
    const goesOn = (match: number): boolean =>
      this.players.some((player) => player.match === match && player.answeredAt > began)
    const all = Array.from({ length: this.matches }, (_, match) => match)
    while (!all.every(goesOn)) {
      if (performance.now() - began > within)
        throw new Error(`${all.filter((match) => !goesOn(match)).map(idOf)} do not go on`)
      for (const player of this.players) if (!goesOn(player.match)) player.act(true)
      await soon(20)
    }
    return performance.now() - began
  }

  /** Forgets what was read: all is read again. */
  readAnew(): void {
    this.read.clear()
  }

  /** Waits until everything is answered. Returns the first law that one of so many matches breaks, in words. */
  async lawBroken(stream: MatchStream, count = this.matches): Promise<string | undefined> {
    await answered(async () => {
      const open = this.players.filter(({ waiting }) => waiting > 0)
      if (open.length > 0)
        throw new Error(`${open.map(({ match }) => idOf(match))}: actions without an answer`)
    })
    const first = Math.floor(this.chance.between(0, this.matches))
    for (let n = 0; n < count; n++) {
      const match = (first + n) % this.matches
      const look = (): Promise<string | undefined> =>
        answered(() => this.brokenIn(match, stream).catch(wordsIfBroken))
      let broken = await look()
      // Timers go on while it is looked at.
      for (let tries = 0; broken !== undefined && tries < 10; tries++) {
        await soon(150)
        broken = await look()
      }
      if (broken !== undefined) return `${idOf(match)}: ${broken}`
    }
    return undefined
  }

  private async messagesOf(match: number, stream: MatchStream): Promise<readonly Stored[]> {
    const messages = this.read.get(match) ?? []
    this.read.set(match, messages)
    const behind = messages.at(-1)?.sequence ?? 0
    for await (const message of messagesAfter(stream, subjectOf(idOf(match)), behind)) messages.push(message)
    return messages
  }

  private async brokenIn(match: number, stream: MatchStream): Promise<string | undefined> {
    const [book] = bookOf(match)
    const messages = await this.messagesOf(match, stream)
    const owners = ownersOf(messages)
    if (owners !== undefined) return owners
    const { lines } = await wholeMatch(subjectOf(idOf(match)), {
      stream: { ...stream, next: nextOf(messages) },
    })
    const content = readRecord(`${lines.join('\n')}\n`)
    const replayed = replayRecord(book, content)
    if (replayed.differs !== undefined) return `it does not replay: ${JSON.stringify(replayed.differs)}`
    for (const player of this.players.filter((each) => each.match === match)) {
      const { seat, view } = player.client
      const accepted = content.lines.filter(
        ({ line }) =>
          'input' in line && line.seat === seat && line.no === undefined && line.how?.id !== undefined,
      ).length
      if (accepted !== player.done)
        return `${seat} was answered ${player.done} times, and ${accepted} are recorded`
      const now = JSON.parse(JSON.stringify(replayed.match.view(seat as string)))
      if (!isDeepStrictEqual(now, JSON.parse(JSON.stringify(view))))
        return `${seat} does not see what is recorded`
    }
    return undefined
  }
}

function wordsIfBroken(error: unknown): string {
  if (error instanceof BrokenMatch) return error.message
  throw error
}

/** Finds a message among those that were read. */
function nextOf(messages: readonly Stored[]): MatchStream['next'] {
  let at = 0
  return async (_, sequence) => {
    while (at > 0 && (messages[at - 1]?.sequence ?? 0) >= sequence) at--
    while ((messages[at]?.sequence ?? sequence) < sequence) at++
    return messages[at]
  }
}

/** Each epoch of a match is one venue's. */
function ownersOf(messages: readonly Stored[]): string | undefined {
  const owners = new Map<number, string>()
  const chain = new Chain()
  for (const stored of messages) {
    const message = chain.take(stored)
    if (message === undefined) continue
    const { epoch, by } = message
    if ((owners.get(epoch) ?? by) !== by) return `two venues wrote in epoch ${epoch}`
    owners.set(epoch, by)
  }
  return undefined
}
