import {
  type BeginOptions,
  defineRule,
  defineRulebook,
  int,
  type Match,
  maybe,
  minutes,
  owner,
  perSeat,
  seatRef,
  text,
} from 'zinc-referee'
import {
  credit,
  mostAtTime,
  respawn,
  roster,
  rounds,
  scores,
  verdict,
  vitals,
  whileUp,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

/** A mode for tests: everything that the built-in rules do can be set off from outside. */
export const moves = defineRule({
  name: 'moves',
  needs: [vitals, scores, roster],
  state: { bag: perSeat({ coins: int(0).seenBy(owner), plan: text('') }) },
  actions: {
    wave: { when: whileUp, input: {}, decide() {} },
    plan: {
      input: { plan: text() },
      decide(match, seat, { plan }) {
        match.own.bag.of(seat).plan = plan
      },
    },
    aim: { input: { at: seatRef(), times: int(1).between(1, 3) }, decide() {} },
  },
  facts: {
    hit: {
      input: { target: seatRef(), by: maybe(seatRef()), amount: int(25) },
      handle: (match, { target, by, amount }) => match.use(vitals).hurt({ target, by, amount }),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      handle: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
    coins: {
      input: { seat: seatRef(), n: int() },
      handle(match, { seat, n }) {
        match.own.bag.of(seat).coins = n
      },
    },
    shield: {
      input: { seat: seatRef(), ms: int() },
      handle: (match, { seat, ms }) => match.use(vitals).protect(seat, ms),
    },
  },
})

export const skirmish = defineRulebook({
  name: 'skirmish',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: minutes(5) }),
    vitals({ healthSeen: 'everyone' }),
    scores,
    credit({ points: { kill: 1 } }),
    respawn({}),
    verdict({ when: [mostAtTime] }),
    moves,
  ],
})
type SpecOf<B> = B extends { readonly specs?: { readonly is: infer S } } ? S & {} : never

/** Otter, Heron and Vole in live play at 3,000 ms of match time, 0 of play time. */
export const fight = (
  settings: BeginOptions<SpecOf<typeof skirmish>>['settings'] = {},
  seats = ['otter', 'heron', 'vole'],
) => playMatch(skirmish, seats, { settings })

export type SkirmishMatch = Match<SpecOf<typeof skirmish>>
const START = 3000
/** Goes to so many ms of play time. */
export const at = (match: SkirmishMatch, play: number): void => match.advanceTo(START + play)
export const hit = (match: SkirmishMatch, target: string, by: string | undefined, amount = 25) =>
  match.report('moves.hit', { target, by, amount })

/** The names of the notices that a spectator has got since the last flush. */
export function news(match: SkirmishMatch, name: string) {
  return match
    .flush()
    .flatMap(({ viewer, notices }) =>
      viewer === 'spectator'
        ? notices.filter((notice) => notice.name === name).map(({ cells }) => cells)
        : [],
    )
}
