import type { HostedMatch } from '@zinc-referee/venue'
import type { LoadedMode } from '../modes/load-mode.ts'

const FAIR = ['Otter', 'Heron', 'Vole', 'Newt', 'Coot', 'Pike', 'Moth', 'Toad']
const PLAYING = new Set(['countdown', 'live', 'break'])

/** Before and after a bout, empty seats go to bots; there must be somebody to play with. */
export function fillWithBots(hosted: HostedMatch, mode: LoadedMode): void {
  const { match } = hosted
  const people = match.allSeats.filter(
    (seat) => !rosterOf(hosted).of(seat).bot && rosterOf(hosted).of(seat).presence === 'here',
  )
  if (people.length === 0 || PLAYING.has(phaseOf(hosted))) return
  const named = mode.demo.seats ?? FAIR.map((name) => ({ id: name.toLowerCase(), name }))
  const wanted = Math.min(
    mode.rulebook.plan.room.max,
    mode.demo.filledTo ?? Math.min(named.length, FAIR.length),
  )
  const more = Array.from({ length: wanted }, (_, at) => {
    const { id, name } = named[at % named.length] ?? { id: 'guest', name: 'Guest' }
    return at < named.length ? { id, name } : { id: `${id}-${at + 1}`, name: `${name} ${at + 1}` }
  })
  const taken = match.allSeats.filter((seat) => rosterOf(hosted).of(seat).presence !== 'left').length
  const free = more.filter(({ id }) => !match.allSeats.includes(id))
  for (const { id, name } of free.slice(0, Math.max(0, wanted - taken)))
    hosted.run(() => match.direct('roster.join', { seat: id, name, bot: true }))
}

interface Roster {
  of(seat: string): { readonly bot: boolean; readonly presence: string }
}
// Roster and phases are in every rulebook, whatever else is not known of it here.
interface Always {
  readonly roster: { readonly seats: Roster }
  readonly phases: { readonly now: { readonly phase: string } }
}
const always = ({ match }: HostedMatch): Always => match.state as object as Always
export const rosterOf = (hosted: HostedMatch): Roster => always(hosted).roster.seats
const phaseOf = (hosted: HostedMatch): string => always(hosted).phases.now.phase
