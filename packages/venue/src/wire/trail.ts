import { randomUUID } from 'node:crypto'
import type { InitialView, Notice, Update } from 'zinc-referee'
import { type Latest, mergedLatest, operationsOf } from 'zinc-referee/replica'
import type { Watchable } from '../matches/index.ts'
import { notificationText } from './protocol.ts'

/** Where a client has got to: which series of updates, and the last number that it has seen. */
export interface Seen {
  readonly epoch: string
  readonly n: number
}
export type Pace = 'prompt' | 'slow' | 'behind'

/** What receives the messages of a trail. */
export interface Receiver {
  send(text: string): void
  /** How well the client keeps up. Slow: what may wait does. Behind: patches are of no use any more. */
  readonly pace: Pace
  /** Called with each update, after its messages. */
  heard(update: Update): void
}

/** What a message is made of: an update whose view is sent, a notice, or the inside of a whole view. */
type Content = Shown | Notice | string
type Shown = Pick<Update, 'at' | 'patch' | 'latest' | 'done'>

/** How many messages are kept for a client that has lost its connection, and how many characters. */
const [KEPT, KEPT_LENGTH] = [64, 32 * 1024]
/** How long they are kept, in ms, and how long it takes until a slow client is looked at again. */
const [RESUME_FOR, LOOK_AGAIN] = [30_000, 200]

/**
 * The updates of one viewer, as numbered messages. It outlives a connection for a while, so that a client which comes back
 * gets what it missed. For a client that reads slowly, numbers of which only the latest counts are merged; if it reads too
 * slowly, it gets a whole view in place of the patches that it has no time for.
 */
export class Trail {
  readonly epoch: string = randomUUID().slice(0, 8)
  private readonly hosted: Watchable
  private readonly viewer: string
  private readonly wait: (ms: number, then: () => void) => () => void
  private receiver: Receiver | undefined
  /**
   * The last messages, the newest last: what each is made of, which shares its patch with viewers who see the same, and how long
   * its text is. The numbers stand apart, since there are hundreds of them in a match.
   */
  private kept: Content[] = []
  private lengths: number[] = []
  private length = 0
  private count = 0
  /** What ends the wait for a client that may come back, and that for one that is too slow. */
  private stopWaiting: () => void = () => {}
  private callOff: () => void = () => {}
  private isSkipping = false
  /** Numbers that wait for a slow client. */
  private held: { readonly at: number; readonly latest: Latest } | undefined
  private readonly isPlain: boolean

  /** `isPlain`: numbers of which only the latest counts come as operations of the patch. */
  constructor(
    hosted: Watchable,
    viewer: string,
    wait: (ms: number, then: () => void) => () => void,
    isPlain: boolean,
  ) {
    this.hosted = hosted
    this.viewer = viewer
    this.wait = wait
    this.isPlain = isPlain
  }

  /** The number of the last message. */
  get n(): number {
    return this.count
  }

  /** Begins with a whole view. */
  open(receiver: Receiver): InitialView {
    this.receiver = receiver
    return this.view()
  }

  /** Returns the messages behind the last one that a client has seen, which then gets all others; nothing if they are gone. */
  resume({ epoch, n }: Seen, receiver: Receiver): readonly string[] | undefined {
    const first = this.count - this.kept.length
    if (epoch !== this.epoch || n < first || n > this.count) return undefined
    this.stopWaiting()
    this.receiver = receiver
    return this.kept.slice(n - first).map((content, at) => this.textOf(n + at + 1, content))
  }

  /** Keeps what comes for a client that may come back, for a while. `gone` is called when it is no longer kept. */
  leave(gone: () => void): void {
    this.receiver = undefined
    this.release()
    const callOff = this.wait(RESUME_FOR, gone)
    this.hosted.ends.add(gone)
    this.stopWaiting = () => {
      callOff()
      this.hosted.ends.delete(gone)
    }
  }

  /** Ends it. */
  close(): void {
    this.stopWaiting()
    this.callOff()
    this.receiver = undefined
    this.forget()
    this.hosted.shut(this.viewer, this.take)
  }

  private view(): InitialView {
    const isSeat = this.hosted.match.allSeats.includes(this.viewer)
    return isSeat ? this.hosted.open(this.viewer, this.take) : this.hosted.watch(this.viewer, this.take)
  }

  /** The view first, then the notices in their order. */
  private readonly take = (update: Update): void => {
    const { patch, latest, notices, done } = update
    const pace = this.receiver?.pace
    if (pace === 'behind') this.skip()
    const mayWait = patch === '[]' && notices.length === 0 && done === undefined
    if (!this.isSkipping && pace === 'slow' && mayWait && latest !== undefined) this.hold(update.at, latest)
    else if (!this.isSkipping) {
      this.release()
      if (patch !== '[]' || latest !== undefined) this.send(shownOf(update))
      for (const notice of notices) this.send(notice)
    }
    this.receiver?.heard(update)
  }

  private hold(at: number, latest: string): void {
    const isFirst = this.held === undefined
    this.held = { at, latest: mergedLatest(this.held?.latest ?? {}, JSON.parse(latest)) }
    const look = (): void => {
      if (this.held === undefined || this.hosted.isClosed) return
      if (this.receiver?.pace === 'slow') this.callOff = this.wait(LOOK_AGAIN, look)
      else this.release()
    }
    if (isFirst) this.callOff = this.wait(LOOK_AGAIN, look)
  }

  /** Sends what has waited. It comes before any patch: after it, its rows may be gone. */
  private release(): void {
    if (this.held === undefined) return
    const { at, latest } = this.held
    this.held = undefined
    this.callOff()
    this.send({ at, patch: '[]', latest: JSON.stringify(latest) })
  }

  private send(content: Content): void {
    const text = this.textOf(++this.count, content)
    this.kept.push(content)
    this.lengths.push(text.length)
    this.length += text.length
    for (; this.kept.length > KEPT || this.length > KEPT_LENGTH; this.kept.shift())
      this.length -= this.lengths.shift() ?? 0
    this.receiver?.send(text)
  }

  private textOf(n: number, content: Content): string {
    if (typeof content === 'string') return notificationText('view', `{"n":${n},${content}`)
    if ('patch' in content) return notificationText('view', `{"n":${n},${membersOf(content, this.isPlain)}}`)
    return notificationText('notice', `{"n":${n},${JSON.stringify(content).slice(1)}`)
  }

  /** Sends nothing until the client has read what waits for it. */
  private skip(): void {
    if (this.isSkipping) return
    this.isSkipping = true
    this.held = undefined
    this.callOff()
    this.count++ // whoever comes back with an older number gets a whole view
    this.forget()
    const look = (): void => {
      if (this.receiver === undefined || this.hosted.isClosed) return
      if (this.receiver.pace === 'behind') this.callOff = this.wait(LOOK_AGAIN, look)
      else this.catchUp()
    }
    this.callOff = this.wait(LOOK_AGAIN, look)
  }

  private forget(): void {
    this.kept = []
    this.lengths = []
    this.length = 0
  }

  private catchUp(): void {
    const { at, view, notices } = this.view()
    this.hosted.whenSafe(() => {
      this.isSkipping = false
      this.send(`"at":${at},"notices":${JSON.stringify(notices)},"view":${view}}`)
    })
  }
}

const shownOf = ({ at, patch, latest, done }: Update): Shown => ({
  at,
  patch,
  ...(latest !== undefined && { latest }),
  ...(done !== undefined && { done }),
})

function membersOf({ at, patch, latest, done }: Shown, isPlain: boolean): string {
  const including = done === undefined ? '' : `,"done":${JSON.stringify(done)}`
  const begin = `"at":${at}${including}`
  if (latest === undefined) return `${begin},"patch":${patch}`
  if (isPlain) return `${begin},"patch":${JSON.stringify(operationsOf({ patch, latest }))}`
  return `${begin}${patch === '[]' ? '' : `,"patch":${patch}`},"latest":${latest}`
}
