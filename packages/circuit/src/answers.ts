import type { Matches, MatchSummary } from '@zinc-referee/venue/keeping'
import type { FeedSource } from './feed-source.ts'
import type { Finding } from './finding.ts'
import type { Answerer } from './nats/asking.ts'
import type { Circuit } from './protocol/circuit.ts'
import type { Member } from './protocol/members.ts'
import type { Lately, VenueReport } from './reports.ts'
import type { StreamRoom } from './stream-room.ts'

/** What a venue answers from. */
interface Answering {
  readonly circuit: Circuit
  readonly finding: Finding
  readonly matches: Matches
  readonly feeds: FeedSource
  readonly lately: Lately
  readonly room: StreamRoom
  readonly self: () => Member
}
/** The listed matches of a venue. */
export interface Listed {
  readonly venue: string
  readonly matches: readonly MatchSummary[]
}

/** Returns what answers the questions of other venues. */
export function answers(from: Answering): Answerer {
  const { circuit, finding, matches, feeds, self } = from
  return (question, given) => {
    switch (question) {
      case 'take':
        return circuit.take(String(given))
      case 'room':
        return finding.room(String(given))
      case 'begin': {
        const { mode, match } = given as { readonly mode: string; readonly match: string }
        return matches.beginFor(mode, match).id
      }
      case 'matches': {
        const listed = matches.running.filter(({ hosting }) => hosting.listed)
        return { venue: self().name, matches: listed.map(({ summary }) => summary) } satisfies Listed
      }
      case 'feed':
        return feeds.begin(String(given))
      case 'feed goes on': {
        const { match, epoch } = given as { readonly match: string; readonly epoch: string }
        return feeds.goesOn(match, epoch)
      }
      case 'report':
        return reportOf(from)
      default:
        return true
    }
  }
}

function reportOf({ circuit, matches, lately, room, self }: Answering): VenueReport {
  const { name, url, isLeaving, max } = self()
  return {
    venue: name,
    url,
    isLeaving,
    max,
    room: room.room,
    matches: circuit.owners.map((owned) => ({
      ...owned,
      standsStill: matches.get(owned.match)?.isPaused ?? true,
    })),
    commit: lately.commit,
    lately: lately.lately,
  }
}
