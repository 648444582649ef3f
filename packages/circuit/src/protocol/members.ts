import type { HostClock } from 'zinc-referee/host'
import { type Bucket, OutOfSequence } from './ports.ts'

/** After how many missed beats a venue is asked after. */
const ASKED_AFTER = 2

/** What a venue says of itself with each beat. */
export interface Member {
  readonly name: string
  /** Tells this start of it from every other. */
  readonly start: string
  /** Where clients reach it. */
  readonly url: string
  /** The modes that it has, and how many matches of how many. */
  readonly modes: readonly string[]
  readonly matches: number
  readonly max: number
  /** True if it takes no new matches. */
  readonly isLeaving: boolean
}

/** Options of `Members`. */
export interface MembersOptions {
  readonly bucket: Bucket
  readonly clock: HostClock
  /** Time between two beats, in ms. */
  readonly beatEvery: number
  /** After how many beats of its own without one of another, a venue takes the other for gone. */
  readonly lease: number
  readonly self: () => Member
  /** Returns true if nobody listens for what is asked of a venue: its process has ended, or cannot be reached. */
  readonly isSilent: (name: string) => Promise<boolean>
  /** Called after each beat that was written. */
  readonly beaten: () => void
  /** Called once if another venue has this name: this one is none of the circuit any more. */
  readonly replaced: (by: Member) => void
}

/**
 * The venues of a circuit, as one of them sees it. Each writes a beat again and again. One whose beats stop is gone; that is
 * counted in beats that this one could write itself, so that nobody is taken for gone while nothing can be written, and no
 * clock is compared with another.
 */
export class Members {
  private readonly options: MembersOptions
  private readonly seen: Map<string, { readonly member: Member; readonly at: number }> = new Map()
  /** Resolves when it has seen all venues there are. */
  readonly loaded: Promise<void>
  /** Where clients have reached venues since this one began. */
  readonly urls: Set<string> = new Set()
  /** How many beats it has written. */
  private beats = 0
  private revision = 0
  private isOver = false
  private callOff: () => void = () => {}
  private readonly stopWatching: () => void

  constructor(options: MembersOptions) {
    this.options = options
    let caughtUp = (): void => {}
    this.loaded = new Promise((done) => {
      caughtUp = done
    })
    this.stopWatching = options.bucket.watch((key, text) => {
      if (text === undefined) this.seen.delete(key)
      else this.see(key, JSON.parse(text) as Member)
    }, caughtUp)
    void this.beat()
  }

  private see(name: string, member: Member): void {
    this.seen.set(name, { member, at: this.beats })
    this.urls.add(member.url)
  }

  /** Those that are there, this one among them unless it is leaving. */
  get live(): readonly Member[] {
    const { self, lease } = this.options
    const others = [...this.seen.values()]
      .filter(({ member, at }) => member.name !== self().name && this.beats - at < lease)
      .map(({ member }) => member)
    return [...others, self()].filter(({ isLeaving }) => !isLeaving)
  }

  /** True if a venue of this name and start is there, or was until a moment ago. */
  isThere(by: string): boolean {
    const { self, lease } = this.options
    if (by === idOf(self())) return true
    return [...this.seen.values()].some(({ member, at }) => idOf(member) === by && this.beats - at < lease)
  }

  /** Returns what is known of a venue. */
  get(name: string): Member | undefined {
    return this.seen.get(name)?.member
  }

  /** Ends it. The others notice at once if its key is removed. */
  async leave(): Promise<void> {
    this.stop()
    await this.options.bucket.remove(this.options.self().name).catch(() => undefined)
  }

  private stop(): void {
    this.isOver = true
    this.callOff()
    this.stopWatching()
  }

  private async beat(): Promise<void> {
    const { bucket, clock, beatEvery, self, beaten } = this.options
    const member = self()
    let isNext = true
    try {
      this.revision = await bucket.replace(member.name, JSON.stringify(member), this.revision)
      this.beats++
      if (this.isOver) return
      this.askAfter()
      beaten()
    } catch (error) {
      if (error instanceof OutOfSequence) isNext = !(await this.look())
    }
    if (!this.isOver) this.callOff = clock.wakeAfter(isNext ? beatEvery : 0, () => void this.beat())
  }

  /** Whoever has missed a beat is asked after: a process that has ended need not be waited for. */
  private askAfter(): void {
    const { self, isSilent, lease } = this.options
    for (const [name, { member, at }] of this.seen) {
      const missed = this.beats - at
      if (name === self().name || missed < ASKED_AFTER || missed >= lease) continue
      isSilent(name).then(
        (isGone) => {
          // Unless it has beaten meanwhile.
          if (isGone && this.seen.get(name)?.at === at)
            this.seen.set(name, { member, at: this.beats - lease })
        },
        () => undefined, // then it is waited for
      )
    }
  }

  /**
   * The last beat may have been written without an answer; or it is that of another start: of an earlier one, whose name this
   * one takes, or of a later one, which has taken it. Returns true if the next beat is to take it.
   */
  private async look(): Promise<boolean> {
    const { bucket, self, replaced } = this.options
    const entry = await bucket.get(self().name).catch(() => undefined)
    this.revision = entry?.revision ?? 0
    const member: Member | undefined = entry && JSON.parse(entry.text)
    const isOther = member !== undefined && idOf(member) !== idOf(self())
    if (!isOther || this.beats === 0) return true
    this.stop()
    replaced(member)
    return false
  }
}

/** How messages name a venue: which, and which start of it. */
export const idOf = ({ name, start }: Pick<Member, 'name' | 'start'>): string => `${name}@${start}`

/** The name of a venue in what names its start. */
export const nameIn = (by: string): string => by.slice(0, by.lastIndexOf('@'))

/** Returns the member that a match belongs to, as long as the same ones are there: all venues find the same one. */
export function memberFor(match: string, members: readonly Member[]): Member | undefined {
  const weighed = members.map((member) => ({ member, weight: weightOf(`${match} ${member.name}`) }))
  return weighed.sort((a, b) => b.weight - a.weight || (a.member.name < b.member.name ? -1 : 1))[0]?.member
}

/** A 32-bit hash of a text (FNV-1a, then mixed). */
function weightOf(text: string): number {
  let hash = 0x811c9dc5
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193)
  hash = Math.imul(hash ^ (hash >>> 16), 0x45d9f3b)
  return (hash ^ (hash >>> 16)) >>> 0
}
