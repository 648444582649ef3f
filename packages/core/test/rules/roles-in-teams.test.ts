import { expect, test } from 'vitest'
import { mostAtTime, rolesOf, teams, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { bookWith, brewing, SEATS } from '../fixtures/brew-mode.ts'

/** Two crews with a keeper each, dealt anew each round. */
const keepers = rolesOf({ ringer: {}, keeper: { perTeam: 1, camp: 'ringer' } })
const pier = bookWith(
  verdict({ when: [mostAtTime.decides('round')] }),
  keepers,
  teams({ balance: 'at-start' }),
)

test.each(['bout', 'round'] as const)(
  'RL10: one keeper in every crew, dealt with each %s, whoever has just changed crews',
  (dealt) => {
    for (let seed = 0; seed < 12; seed++) {
      const settings = { roles: { dealt }, rounds: { count: 3, length: 1000 } }
      const { match } = playMatch(pier, SEATS.slice(0, 5), {
        start: false,
        settings,
        seed: `fair-${seed}`,
      }) as any
      for (const seat of [...match.seats])
        if (match.state.teams.side.of(seat).team === 1) match.submit(seat, 'roster.leave', {})
      match.direct('phases.start', {})
      match.advanceTo(3000)
      const crews = () =>
        match.seats.flatMap((seat: string) =>
          match.state.roles.seats.of(seat).role === 'keeper' ? [match.state.teams.side.of(seat).team] : [],
        )
      for (const round of [1, 2, 3]) {
        expect([match.state.rounds.now.round, crews().sort()]).toEqual([round, [0, 1]])
        match.advanceTo(match.now + 1000)
      }
      expect(match.faults).toEqual([])
    }
  },
)

test('RL10: a crew of none has no keeper, and without teams nobody is one', () => {
  const alone = bookWith(verdict({ when: [mostAtTime] }), keepers)
  const { holders } = brewing({}, SEATS, alone)
  expect(holders('keeper')).toEqual([])
})

test.each([
  ['leaves', (match: any, seat: string) => match.submit(seat, 'roster.leave', {})],
  ['is sidelined', (match: any, seat: string) => match.report('moves.out', { seat })],
] as const)('RL11: when the keeper %s, one of its crew becomes keeper and alone knows', (_how, go) => {
  const settings = { whenHolderGoes: 'passes-on', revealOnOut: true, revealOnLeave: true, revealAtEnd: false }
  const { match, holders, role } = brewing(settings, SEATS, pier)
  const crewOf = (seat: string): number => match.state.teams.side.of(seat).team
  const [keeper, other] = holders('keeper')
  go(match, keeper)
  const [heir, ...more] = holders('keeper').filter((seat: string) => seat !== other)
  expect([heir !== keeper, more, crewOf(heir)]).toEqual([true, [], crewOf(keeper)])
  expect([role(heir), role(heir, other), role(heir, keeper)]).toEqual(['keeper', undefined, undefined])
  for (const seat of match.seats) if (crewOf(seat) === crewOf(keeper) && seat !== heir) go(match, seat)
  go(match, heir)
  // Whether anybody was left to take it is a secret, as is who would.
  expect([match.state.roles.seats.of(heir).role, role(heir, other)]).toEqual(['keeper', undefined])
  expect(match.faults).toEqual([])
})
