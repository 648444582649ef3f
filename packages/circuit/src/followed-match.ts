import type { NatsConnection, Subscription } from '@nats-io/transport-node'
import type { Watchable } from '@zinc-referee/venue/keeping'
import type { InitialView, Notice } from 'zinc-referee'
import type { Listener } from 'zinc-referee/host'
import { type BareView, Replica } from 'zinc-referee/replica'
import type { FeedBegin, FeedMessage } from './feed-source.ts'

/** What a followed match works with. */
export interface Following {
  readonly connection: NatsConnection
  readonly subject: string
  /** Asks the venue that has the match to begin. */
  readonly begin: () => Promise<FeedBegin | undefined>
  /** Asks whether the series still goes on. */
  readonly goesOn: (epoch: string) => Promise<boolean>
  /** How often it asks, in ms. */
  readonly every: number
}

/** A match that another venue has, as its spectators see it: one feed for all who watch it here. */
export class FollowedMatch implements Watchable {
  readonly id: string
  readonly match: Watchable['match']
  readonly ends: Set<(why: string) => void> = new Set()
  isClosed = false
  private readonly replica: Replica
  private readonly epoch: string
  private notices: readonly Notice[]
  private n: number
  private at: number
  private receivedAt: number = performance.now()
  private readonly listeners: Set<Listener> = new Set()
  private readonly subscription: Subscription
  private readonly timer: NodeJS.Timeout

  private constructor(id: string, begun: FeedBegin, subscription: Subscription, following: Following) {
    const { epoch, n, at, view, notices, rulebook, description } = begun
    this.id = id
    this.epoch = epoch
    this.n = n
    this.at = at
    this.notices = notices
    this.replica = new Replica({ at, view: JSON.parse(view) as BareView }, this.receivedAt)
    this.match = { allSeats: [], rulebook, describe: () => description }
    this.subscription = subscription
    this.timer = setInterval(async () => {
      if (!(await following.goesOn(epoch))) this.end('moved')
    }, following.every).unref()
  }

  /** Follows a match. Returns nothing if no venue sends it. */
  static async open(id: string, following: Following): Promise<FollowedMatch | undefined> {
    const early: FeedMessage[] = []
    let receive = (message: FeedMessage): void => void early.push(message)
    const subscription = following.connection.subscribe(following.subject, {
      callback(error, message) {
        if (error === null) receive(message.json())
      },
    })
    const begun = await following.begin()
    if (begun === undefined) {
      subscription.unsubscribe()
      return undefined
    }
    const followed = new FollowedMatch(id, begun, subscription, following)
    receive = (message) => followed.receive(message)
    for (const message of early) followed.receive(message)
    return followed
  }

  now(): number {
    return Math.floor(this.at + performance.now() - this.receivedAt)
  }

  watch(_viewer: string, listener: Listener): InitialView {
    this.listeners.add(listener)
    const notices = this.notices.filter(({ until }) => until > this.at)
    return { at: this.at, view: JSON.stringify(this.replica.view), notices }
  }

  /** Nobody has a seat in it here. */
  open(viewer: string, listener: Listener): InitialView {
    return this.watch(viewer, listener)
  }

  shut(_viewer: string, listener: Listener): void {
    this.listeners.delete(listener)
    if (this.listeners.size === 0) this.end('nobody watches')
  }

  /** Nothing is sent on a feed before it is safe. */
  whenSafe(send: () => void): void {
    send()
  }

  private receive(message: FeedMessage): void {
    if (this.isClosed || message.epoch !== this.epoch || message.n <= this.n) return
    // When a message was lost, whoever watches begins again.
    const end = 'end' in message ? message.end : message.n !== this.n + 1 ? 'moved' : undefined
    if ('end' in message || end !== undefined) {
      this.end(end ?? 'moved')
      return
    }
    const { n, at, patch, latest, notices } = message
    this.n = n
    this.at = at
    this.receivedAt = performance.now()
    this.notices = [...this.notices.filter(({ until }) => until > at), ...notices]
    const parsed = {
      at,
      patch: JSON.parse(patch),
      ...(latest !== undefined && { latest: JSON.parse(latest) }),
    }
    this.replica.update(parsed, this.receivedAt)
    const update = { viewer: '', at, patch, notices, ...(latest !== undefined && { latest }) }
    for (const listener of [...this.listeners]) listener(update)
  }

  private end(why: string): void {
    if (this.isClosed) return
    this.isClosed = true
    clearInterval(this.timer)
    this.subscription.unsubscribe()
    for (const end of [...this.ends]) end(GOES_ON_ELSEWHERE.has(why) ? 'moved' : why)
    this.ends.clear()
    this.listeners.clear()
  }
}

/** Why a feed ends of a match that does not. */
const GOES_ON_ELSEWHERE = new Set(['moved', 'suspended'])
