import { randomUUID } from 'node:crypto'
import type { NatsConnection } from '@nats-io/transport-node'
import type { HostedMatch, Matches } from '@zinc-referee/venue/keeping'
import type { InitialView, Notice, RulebookDescription, Update } from 'zinc-referee'
import { tokenOf } from './protocol/places.ts'

/** Who watches for all others. */
const VIEWER = 'spectator-feed'
/** For how long a feed goes on after the last venue that has asked for it, in ms. */
export const GOES_ON = 30_000

/** How a venue begins to follow a match that another one has. */
export interface FeedBegin extends InitialView {
  /** Names this series of messages. */
  readonly epoch: string
  /** The number of the last message that the view includes. */
  readonly n: number
  readonly rulebook: string
  readonly description: RulebookDescription
}
/** What is sent on a feed: what changed for spectators, or that it ends. */
export type FeedMessage = { readonly epoch: string; readonly n: number } & (
  | {
      readonly at: number
      readonly patch: string
      readonly latest?: string
      readonly notices: readonly Notice[]
    }
  | { readonly end: string }
)

interface Feed {
  readonly epoch: string
  readonly listener: (update: Update) => void
  n: number
  until: number
}

/** Sends what spectators of this venue's matches see, once for all venues that have watchers of them. */
export class FeedSource {
  private readonly connection: NatsConnection
  private readonly subject: (match: string) => string
  private readonly matches: Matches
  private readonly feeds: Map<HostedMatch, Feed> = new Map()

  constructor(connection: NatsConnection, circuit: string, matches: Matches) {
    this.connection = connection
    this.subject = feedOf(circuit)
    this.matches = matches
  }

  /** Begins a feed, or lets another venue follow it. Returns nothing for a match that is not here. */
  async begin(match: string): Promise<FeedBegin | undefined> {
    const hosted = this.matches.get(match)
    if (hosted === undefined || hosted.isPaused) return undefined
    const feed = this.feeds.get(hosted) ?? this.open(hosted)
    feed.until = performance.now() + GOES_ON
    const once = (): void => {}
    const opening = hosted.watch(VIEWER, once)
    hosted.shut(VIEWER, once)
    // A late view is complete at once. Of any other, what is under way comes before: it is in the view already.
    if (hosted.spectatorDelay === 0) await new Promise<void>((safe) => hosted.whenSafe(safe))
    const { match: played } = hosted
    return {
      ...opening,
      epoch: feed.epoch,
      n: feed.n,
      rulebook: played.rulebook,
      description: played.describe(),
    }
  }

  /** Returns true if this series still goes on, and lets it go on for a while. */
  goesOn(match: string, epoch: string): boolean {
    const hosted = this.matches.get(match)
    const feed = hosted && this.feeds.get(hosted)
    if (feed?.epoch !== epoch) return false
    feed.until = performance.now() + GOES_ON
    return true
  }

  private open(hosted: HostedMatch): Feed {
    const send = (content: object): void => {
      const message = { epoch: feed.epoch, n: ++feed.n, ...content }
      this.connection.publish(this.subject(hosted.id), JSON.stringify(message))
    }
    const feed: Feed = {
      epoch: randomUUID().slice(0, 8),
      n: 0,
      until: 0,
      listener({ at, patch, latest, notices }) {
        if (performance.now() > feed.until) stop()
        else send({ at, patch, notices, ...(latest !== undefined && { latest }) })
      },
    }
    const stop = (): void => {
      hosted.shut(VIEWER, feed.listener)
      hosted.ends.delete(ended)
      this.feeds.delete(hosted)
    }
    const ended = (why: string): void => {
      this.feeds.delete(hosted)
      send({ end: why })
    }
    hosted.watch(VIEWER, feed.listener)
    hosted.ends.add(ended)
    this.feeds.set(hosted, feed)
    return feed
  }
}

/** The subject of a match's feed. */
export const feedOf =
  (circuit: string) =>
  (match: string): string =>
    `${circuit}.feed.${tokenOf(match)}`
