import type { HostedMatch } from '@zinc-referee/venue'
import type { LoadedMode } from '../modes/load-mode.ts'

const FAIR = ['Otter', 'Heron', 'Vole', 'Newt', 'Coot', 'Pike', 'Moth', 'Toad']
const PLAYING: ReadonlySet<string> = new Set(['countdown', 'live', 'break'])

/**
 * Gives empty seats to bots before and after a bout, so that a player has somebody to play with. A bot goes when a player
 * has come who makes them too many.
 */
export function fillWithBots(hosted: HostedMatch, mode: LoadedMode): void {
  const { match } = hosted
  const { phases, roster } = match.state
  const people = match.allSeats.filter(
    (seat) => !roster.seats.of(seat).bot && roster.seats.of(seat).presence === 'here',
  )
  if (people.length === 0 || PLAYING.has(phases.now.phase)) return
  const named = mode.demo.seats ?? FAIR.map((name) => ({ id: name.toLowerCase(), name }))
  const wanted = Math.min(
    mode.rulebook.plan.seatLimits.max,
    mode.demo.filledTo ?? Math.min(named.length, FAIR.length),
  )
  const more = Array.from({ length: wanted }, (_, at) => {
    const { id, name } = named[at % named.length] ?? { id: 'guest', name: 'Guest' }
    return at < named.length ? { id, name } : { id: `${id}-${at + 1}`, name: `${name} ${at + 1}` }
  })
  const seated = match.allSeats.filter((seat) => roster.seats.of(seat).presence !== 'left')
  const taken = seated.length
  const names = new Set(people.map((seat) => roster.seats.of(seat).name))
  const bots = seated.filter((seat) => roster.seats.of(seat).bot)
  // Two of one name would be taken for one another.
  const last = bots.find((seat) => names.has(roster.seats.of(seat).name)) ?? bots.at(-1)
  if (taken > wanted && last !== undefined) hosted.submit(last, 'roster.leave', {}, {})
  const free = more.filter(({ id, name }) => !match.allSeats.includes(id) && !names.has(name))
  for (const { id, name } of free.slice(0, Math.max(0, wanted - taken)))
    hosted.run(() => match.direct('roster.join', { seat: id, name, bot: true }))
}
