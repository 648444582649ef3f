import { defineRule, defineRulebook, int, minutes, perSeat, seatRef, side, text } from 'zinc-referee'
import { credit, mostAtTime, respawn, rounds, scores, teams, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

export const fray = defineRule({
  name: 'fray',
  needs: [vitals, scores],
  state: { plans: perSeat({ plan: text('').seenBy(side) }) },
  facts: {
    hit: {
      input: { target: seatRef(), by: seatRef(), amount: int(30) },
      handle: (match, blow) => match.use(vitals).hurt(blow),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      handle: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
  },
  actions: {
    plan: {
      input: { plan: text() },
      decide(match, seat, { plan }) {
        match.own.plans.of(seat).plan = plan
      },
    },
  },
})
export const bookWith = (...when: Parameters<typeof verdict>[0]['when'] & object) =>
  defineRulebook({
    name: 'fray',
    seats: { min: 2, max: 8 },
    rules: [
      teams,
      rounds({ length: minutes(5) }),
      vitals({ healthSeen: 'everyone' }),
      scores,
      credit({ points: { kill: 1, team: -2 } }),
      respawn({ protectFor: 0 }),
      verdict({ when }),
      fray,
    ],
  })
export const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike', 'moth']
interface How {
  readonly seats?: number
  readonly start?: boolean
  readonly settings?: object
  readonly lives?: number
  readonly seed?: string
}
export function fraying(
  { seats = 4, start = true, settings = {}, lives, seed = 'fair-1' }: How = {},
  book = bookWith(mostAtTime),
) {
  const { match } = playMatch(book, SEATS.slice(0, seats), {
    start,
    seed,
    settings: { teams: settings, ...(lives && { respawn: { lives } }) },
  })
  return {
    match,
    team: (seat: string) => match.view('spectator').teams.side[seat]?.team,
    teamsOf: () => SEATS.slice(0, seats).map((seat) => match.view('spectator').teams.side[seat]?.team),
    health: (seat: string) => match.state.vitals.body.of(seat).health,
    hit: (target: string, by: string, amount = 30) => match.report('fray.hit', { target, by, amount }),
    end: () => match.view('spectator').verdict.end,
  }
}
