import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { crew, everyTeam, neediest } from './crews.ts'
import type { Match } from './shape.ts'

export const unpicked = (match: Match): Seat[] =>
  match.seats.filter((seat) => !match.own.side.of(seat).picked)

/** Back and forth: 0 1 1 0 0 1 1 0 … */
function nextTeam(match: Match): number {
  const { count } = match.settings
  const { picks } = match.own.draft
  const at = picks % count
  return Math.floor(picks / count) % 2 === 0 ? at : count - 1 - at
}

function put(match: Match, seat: Seat, team: number) {
  match.own.side.of(seat).picked = true
  match.resolve('assign', { seat, team })
}

/** Each team's captain is its lowest seat; a team without one gets the lowest seat that nobody has picked. */
export function arrangeCaptains(match: Match) {
  for (const team of everyTeam(match)) {
    const [lowest] = unpicked(match)
    if (lowest !== undefined && crew(match, team).length === 0) put(match, lowest, team)
  }
  const [captain] = crew(match, nextTeam(match))
  match.own.draft.captain = unpicked(match).length === 0 ? undefined : captain
}

/** The captain in turn picks a seat that nobody has picked. */
export function pick(match: Match, by: Seat, seat: Seat) {
  const { draft } = match.own
  if (match.settings.pick !== 'captains') return refuse('no-captains')
  if (match.own.side.of(seat).picked) return refuse('picked', { seat })
  if (draft.captain !== by) return refuse('not-your-turn', { seat: draft.captain })
  put(match, seat, nextTeam(match))
  draft.picks += 1
  return arrangeCaptains(match)
}

/** Seats that nobody has picked before play begins go where they are needed most. */
export function pickTheRest(match: Match) {
  for (const seat of unpicked(match)) put(match, seat, neediest(match, seat))
  match.own.draft.captain = undefined
}
