import {
  defineRule,
  defineRulebook,
  flag,
  int,
  maybe,
  minutes,
  owner,
  perSeat,
  refuse,
  seatRef,
} from 'zinc-referee'
import { credit, mostAtTime, respawn, rounds, scores, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const brawl = defineRule({
  name: 'brawl',
  needs: [vitals, credit],
  state: { vows: perSeat({ peace: flag(false).seenBy(owner) }) },
  facts: {
    hit: {
      late: 500,
      input: { target: seatRef(), by: maybe(seatRef()), amount: int() },
      handle: (match, blow) => match.use(vitals).hurt(blow),
    },
    heal: {
      input: { target: seatRef(), amount: int() },
      handle: (match, given) => match.use(vitals).heal(given),
    },
    push: {
      late: 500,
      input: { target: seatRef(), by: seatRef() },
      handle: (match, { target, by }) => match.use(credit).push(target, by),
    },
    vow: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        match.own.vows.of(seat).peace = true
      },
    },
  },
  on: {
    'credit.given'(_match, { shares }) {
      const sum = shares.reduce((all, share) => all + share, 0)
      if (shares.length > 0 && sum !== 100) throw new Error(`shares add up to ${sum}`)
    },
  },
  amend: {
    'credit.give'(match, { killer }) {
      if (match.own.vows.of(killer).peace) return refuse('sworn-to-peace')
    },
  },
})
const book = defineRulebook({
  name: 'brawl',
  seats: { min: 2, max: 5 },
  rules: [
    rounds({ length: minutes(5) }),
    vitals,
    scores,
    credit,
    respawn({ after: 0, protectFor: 0 }),
    verdict({ when: [mostAtTime] }),
    brawl,
  ],
})

export function feuding(settings: object = {}, body: object = {}) {
  const { match } = playMatch(book, ['otter', 'heron', 'vole', 'newt', 'coot'], {
    settings: { credit: settings, vitals: body },
  })
  match.addViewer('spectator')
  match.flush()
  const told = (wanted: string) =>
    match
      .flush()
      .flatMap(({ viewer, notices }) => (viewer === 'spectator' ? notices : []))
      .flatMap(({ name, cells }) => (name === wanted ? cells : []))
  return {
    match,
    told,
    at: (play: number) => match.advanceTo(3000 + play),
    hit: (by: string | undefined, amount: number, target = 'otter') =>
      match.report('brawl.hit', { target, amount, ...(by !== undefined && { by }) }),
    heal: (amount: number) => match.report('brawl.heal', { target: 'otter', amount }),
    push: (by: string) => match.report('brawl.push', { target: 'otter', by }),
    given: () => told('credit.given')[0],
    tally: (seat: string) => match.state.credit.tally.of(seat),
    points: (seat: string) => match.state.scores.sums.of(seat).score,
  }
}
