import type { NatsConnection } from '@nats-io/transport-node'
import { type FeedBegin, feedOf, GOES_ON } from './feed-source.ts'
import { FollowedMatch } from './followed-match.ts'

/** Asks the venue that has a match. Resolves with nothing if there is none that answers. */
type AskOwner = (match: string, question: string, given: unknown) => Promise<unknown>

/** The matches of other venues that somebody watches here. */
export class Followed {
  private readonly connection: NatsConnection
  private readonly subject: (match: string) => string
  private readonly ask: AskOwner
  private readonly matches: Map<string, Promise<FollowedMatch | undefined>> = new Map()

  constructor(connection: NatsConnection, circuit: string, ask: AskOwner) {
    this.connection = connection
    this.subject = feedOf(circuit)
    this.ask = ask
  }

  /** Returns the feed of a match, the same one for all who watch it here; nothing if no venue sends it. */
  async watch(match: string): Promise<FollowedMatch | undefined> {
    const before = this.matches.get(match)
    if (before !== undefined && (await before)?.isClosed === false) return before
    const following = FollowedMatch.open(match, {
      connection: this.connection,
      subject: this.subject(match),
      begin: async () => ((await this.ask(match, 'feed', match)) ?? undefined) as FeedBegin | undefined,
      goesOn: async (epoch) => (await this.ask(match, 'feed goes on', { match, epoch })) === true,
      every: GOES_ON / 3,
    })
    this.matches.set(match, following)
    const followed = await following
    const forget = (): boolean => this.matches.get(match) === following && this.matches.delete(match)
    if (followed === undefined) forget()
    else followed.ends.add(forget)
    return followed
  }
}
