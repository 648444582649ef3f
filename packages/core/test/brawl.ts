import {
  choice,
  defineRule,
  defineRulebook,
  flag,
  int,
  maybe,
  minutes,
  owner,
  perSeat,
  seatRef,
  text,
} from 'zinc-referee'
import { mostAtTime, respawn, rounds, scores, verdict, vitals, whileUp } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const brawl = defineRule({
  name: 'brawl',
  needs: [vitals],
  state: { marks: perSeat({ parts: text('').seenBy(owner) }) },
  actions: {
    strike: {
      when: whileUp,
      input: { target: seatRef(), amount: int(100) },
      decide: (match, seat, { target, amount }) => match.use(vitals).hurt({ target, amount, by: seat }),
    },
  },
  facts: {
    hit: {
      input: {
        target: seatRef(),
        amount: int(),
        by: maybe(seatRef()),
        through: maybe(choice('shield', 'armour', 'all')),
        passive: flag(false),
      },
      handle: (match, blow) => match.use(vitals).hurt(blow),
    },
    heal: {
      input: { target: seatRef(), amount: int() },
      handle: (match, given) => match.use(vitals).heal(given),
    },
    /** A deadly blow and a heal after it, both in one step. */
    late: {
      input: { target: seatRef() },
      handle(match, { target }) {
        match.use(vitals).hurt({ target, amount: 100 })
        match.use(vitals).heal({ target, amount: 10 })
      },
    },
    burn: {
      input: { target: seatRef(), by: maybe(seatRef()), amount: int(), every: int(1000), ticks: int(3) },
      handle: (match, given) => match.use(vitals).afflict({ ...given, kind: 'burn' }),
    },
    shield: {
      input: { seat: seatRef(), ms: int() },
      handle: (match, { seat, ms }) => match.use(vitals).protect(seat, ms),
    },
    most: {
      input: { seat: seatRef(), max: int() },
      handle: (match, { seat, max }) => match.use(vitals).setMax(seat, max),
    },
  },
  on: {
    'vitals.wounded'(match, { target, shield, armour, health, spilled }) {
      match.own.marks.of(target).parts = `${shield} ${armour} ${health} ${spilled}`
    },
  },
})
const book = defineRulebook({
  name: 'brawl',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: minutes(5) }),
    vitals({ healthSeen: 'everyone' }),
    scores,
    respawn({ protectFor: 0 }),
    verdict({ when: [mostAtTime] }),
    brawl,
  ],
})
export interface Blow {
  readonly by?: string
  readonly through?: 'shield' | 'armour' | 'all'
  readonly passive?: boolean
}
export function brawling(settings: object = {}) {
  const { match } = playMatch(book, ['otter', 'heron', 'vole'], { settings: { vitals: settings } })
  const body = (seat = 'otter') => match.state.vitals.body.of(seat)
  return {
    match,
    body,
    at: (play: number) => match.advanceTo(3000 + play),
    hit: (amount: number, blow: Blow = {}, target = 'otter') =>
      match.report('brawl.hit', { target, amount, by: 'heron', ...blow }),
    burn: (by: string | undefined, amount: number, ticks = 3) =>
      match.report('brawl.burn', { target: 'otter', by, amount, ticks }),
    protect: (seat: string, ms: number) => match.report('brawl.shield', { seat, ms }),
    parts: () => match.state.brawl.marks.of('otter').parts,
    burns: () => match.state.vitals.afflictions.where({ target: 'otter' }).map(({ by, left }) => [by, left]),
  }
}
