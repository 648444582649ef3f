import type { reedRegatta } from '@zinc-referee/examples'
import type { NoticeFor } from 'zinc-referee'
import type { RegattaView } from './regatta-face.tsx'

/** A notice of the regatta as a line of the feed. */
export function tellRegatta(
  { name, cells }: NoticeFor<typeof reedRegatta>,
  view: RegattaView,
): string | undefined {
  const who = (seat: unknown): string => view.roster.seats[String(seat)]?.name ?? String(seat)
  switch (name) {
    case 'phases.changed':
      return cells.to === 'live' ? 'Go!' : cells.to === 'break' ? 'The crews change ends' : undefined
    case 'raft.rammed':
      return `${who(cells.by)} rams ${who(cells.target)}`
    case 'raft.found':
      return `You have found cargo: ${cells.cargo} aboard`
    case 'raft.landed':
      return `${who(cells.seat)} lands ${cells.cargo} cargo`
    case 'raft.armed':
      return `${who(cells.seat)} has a bronze prow`
    case 'raft.veiled':
      return `${who(cells.seat)} lies in the mist`
    case 'rounds.ended':
      return `Round ${cells.round} is over`
    case 'vitals.blocked':
      return `${who(cells.target)} is safe from ${who(cells.by)}`
    case 'respawn.back':
      return `${who(cells.seat)} is back`
    case 'credit.given':
      return cells.killer === null
        ? `${who(cells.seat)} sinks`
        : `${who(cells.killer)} sinks ${who(cells.seat)}${assisted(cells.assists, who)}`
    case 'roster.joined':
      return `${who(cells.seat)} takes a seat`
    case 'roster.handed-over':
      return `${who(cells.seat)} takes a bot's seat`
    case 'roster.absent':
      return `${who(cells.seat)} is away`
    case 'roster.returned':
      return `${who(cells.seat)} is here again`
    case 'roster.left':
      return `${who(cells.seat)} has left`
    default:
      return undefined
  }
}

const assisted = (assists: unknown, who: (seat: unknown) => string): string =>
  Array.isArray(assists) && assists.length > 0 ? ` (with ${assists.map(who).join(', ')})` : ''
