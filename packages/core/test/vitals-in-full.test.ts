import fc from 'fast-check'
import { expect, test } from 'vitest'
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
      hear: (match, blow) => match.use(vitals).hurt(blow),
    },
    heal: {
      input: { target: seatRef(), amount: int() },
      hear: (match, given) => match.use(vitals).heal(given),
    },
    burn: {
      input: { target: seatRef(), by: maybe(seatRef()), amount: int(), every: int(1000), ticks: int(3) },
      hear: (match, given) => match.use(vitals).afflict({ ...given, kind: 'burn' }),
    },
    shield: {
      input: { seat: seatRef(), ms: int() },
      hear: (match, { seat, ms }) => match.use(vitals).protect(seat, ms),
    },
    most: {
      input: { seat: seatRef(), max: int() },
      hear: (match, { seat, max }) => match.use(vitals).setMax(seat, max),
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
interface Blow {
  readonly by?: string
  readonly through?: 'shield' | 'armour' | 'all'
  readonly passive?: boolean
}
function brawling(settings: object = {}) {
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

test.each([
  ['VI11: exactly the shield', { shield: 30 }, 30, {}, '30 0 0 0', 100],
  ['VI12: a quarter of what passes the shield', { shield: 5, armour: 250 }, 15, {}, '5 3 7 0', 93],
  ['VI13: through the shield', { shield: 30, armour: 500 }, 20, { through: 'shield' }, '0 10 10 0', 90],
  ['VI13: through the armour', { shield: 5, armour: 500 }, 20, { through: 'armour' }, '5 0 15 0', 85],
  ['VI13: through all', { shield: 30, armour: 500 }, 20, { through: 'all' }, '0 0 20 0', 80],
  ['VI14: more than there is', { shield: 10 }, 150, {}, '10 0 100 40', 0],
] as const)('%s', (_case, settings, amount, blow, split, health) => {
  const { hit, parts, body } = brawling(settings)
  expect(hit(amount, blow)).toEqual({ ok: true })
  expect([parts(), body().health]).toEqual([split, health])
})

test('VI5: a blow that a seat has sent off before it went down lands, or is dropped', () => {
  for (const [lateBlows, left] of [
    ['land', 60],
    ['drop', 100],
  ] as const) {
    const { hit, body } = brawling({ lateBlows })
    hit(100, { by: 'otter' }, 'heron')
    expect(hit(40)).toEqual({ ok: true })
    expect(body().health).toBe(left)
  }
})

test('VI6: who went down at this very ms still strikes back, whatever the order; a ms later it is down', () => {
  const { match, at, body } = brawling()
  match.submit('heron', 'brawl.strike', { target: 'otter' })
  expect(match.submit('otter', 'brawl.strike', { target: 'heron' })).toEqual({ ok: true })
  expect([body().down, body('heron').down]).toEqual([true, true])
  at(1)
  expect(match.submit('otter', 'brawl.strike', { target: 'vole' })).toMatchObject({ code: 'down' })
})

test('VI8: striking ends one’s own protection, but not where the setting, the blow or oneself as its target says so', () => {
  const protectedStill = (settings: object, blow: Blow, target = 'otter') => {
    const { hit, protect, body } = brawling(settings)
    protect('heron', 5000)
    hit(10, blow, target)
    return body('heron').protectedUntil === 5000
  }
  expect(protectedStill({}, {})).toBe(false)
  expect(protectedStill({ strikingEnds: false }, {})).toBe(true)
  expect(protectedStill({}, { passive: true })).toBe(true)
  expect(protectedStill({}, {}, 'heron')).toBe(true)
})

test('VI9, VI10: the later protection counts; it keeps off the surroundings and oneself, or foes only', () => {
  const all = brawling()
  all.protect('otter', 2000)
  all.protect('otter', 1000)
  expect(all.body().protectedUntil).toBe(2000)
  for (const by of [undefined, 'otter', 'heron'])
    all.match.report('brawl.hit', { target: 'otter', amount: 10, by })
  expect(all.body().health).toBe(100)
  const foes = brawling({ protects: 'foes' })
  foes.protect('otter', 2000)
  for (const by of [undefined, 'otter', 'heron'])
    foes.match.report('brawl.hit', { target: 'otter', amount: 10, by })
  expect(foes.body().health).toBe(80)
})

test('VI15, VI16: healing is clipped at the most, and comes too late for one who has reached 0 in the same step', () => {
  const { match, hit, body } = brawling()
  const heal = (amount: number) => match.report('brawl.heal', { target: 'otter', amount })
  hit(30)
  heal(50)
  expect(body().health).toBe(100)
  hit(100)
  expect(heal(10)).toMatchObject({ code: 'target-down' })
})

test('VI18: three ticks a second apart come at 1, 2 and 3 s; it ends with the last', () => {
  const { at, burn, body, burns } = brawling()
  burn('heron', 10)
  const health = [0, 999, 1000, 2000, 2999, 3000, 9000].map((play) => {
    at(play)
    return body().health
  })
  expect(health).toEqual([100, 100, 90, 80, 80, 70, 70])
  expect(burns()).toEqual([])
})

test('VI19: given again by the same seat its ticks are refilled and the beat stays; another seat’s is its own', () => {
  const { at, burn, body, burns } = brawling()
  burn('heron', 10)
  at(1500)
  burn('heron', 10)
  burn('vole', 1)
  expect(burns()).toEqual([
    ['heron', 3],
    ['vole', 3],
  ])
  at(2000)
  expect(body().health).toBe(80)
  at(2500)
  expect(body().health).toBe(79)
})

test('VI17, VI20, VI21: it goes on when its giver has left, is used up in protection, and ends when its target goes down', () => {
  const { match, at, burn, protect, body, burns, hit } = brawling()
  burn('vole', 10)
  match.submit('vole', 'roster.leave', {})
  at(500)
  protect('otter', 1000)
  at(1000)
  expect([body().health, burns()]).toEqual([100, [['vole', 2]]])
  at(2000)
  expect(body().health).toBe(90)
  hit(100)
  expect(burns()).toEqual([])
  at(10_000)
  expect(body().health).toBe(100)
})

test('an affliction without ticks or time is bad input', () => {
  const { match, burn } = brawling()
  expect(burn('heron', 10, 0)).toMatchObject({ code: 'bad-input' })
  expect(match.report('brawl.burn', { target: 'otter', amount: 1, every: 0 })).toMatchObject({
    code: 'bad-input',
  })
})

test('VI23: health grows back from so long after the last real wound; a blocked blow does not put it off; a tick comes before a blow', () => {
  const { at, hit, protect, body } = brawling({ regenDelay: 2000, regenRate: 5 })
  hit(12)
  at(1000)
  protect('otter', 500)
  hit(50)
  const grown = [1999, 2000, 3000, 4000, 5000].map((play) => {
    at(play)
    return body().health
  })
  expect(grown).toEqual([88, 93, 98, 100, 100])
  hit(12)
  at(7000)
  hit(93)
  expect([body().health, body().down]).toEqual([0, true])
})

test('a shield recharges apart from health', () => {
  const { at, hit, body } = brawling({ shield: 20, shieldDelay: 1000, shieldRate: 8 })
  hit(25)
  const seen = [999, 1000, 2000, 3000, 4000].map((play) => {
    at(play)
    return [body().shield, body().health]
  })
  expect(seen).toEqual([
    [0, 95],
    [8, 95],
    [16, 95],
    [20, 95],
    [20, 95],
  ])
})

test('VI24: decay takes its part of what there is, never below the least, and brings nobody down', () => {
  const { at, body } = brawling({ decay: { every: 1000, rate: 100, least: 70 } })
  const health = [1000, 2000, 3000, 4000, 60_000].map((play) => {
    at(play)
    return body().health
  })
  expect(health).toEqual([90, 81, 73, 70, 70])
})

test('VI25: a lower most clamps health and wounds nobody; a higher one leaves it', () => {
  const { match, body, parts } = brawling()
  match.report('brawl.most', { seat: 'otter', max: 60 })
  expect([body().health, body().max, parts()]).toEqual([60, 60, ''])
  match.report('brawl.most', { seat: 'otter', max: 200 })
  expect([body().health, body().max]).toEqual([60, 200])
})

test('VI28: with downAt0 off nobody goes down at 0', () => {
  const { hit, body } = brawling({ downAt0: false })
  hit(500)
  expect([body().health, body().down]).toEqual([0, false])
})

test('laws a to c, f: all stays within its bounds, the parts of a blow are its amount, and one who is down changes by nothing but coming back', () => {
  const deed = fc.record({
    what: fc.constantFrom('hit', 'hit', 'heal', 'burn', 'protect'),
    amount: fc.nat(130),
    through: fc.constantFrom(undefined, 'shield', 'armour', 'all'),
    wait: fc.nat(2500),
  })
  const settings = fc.record({
    shield: fc.constantFrom(0, 20),
    armour: fc.constantFrom(0, 250, 999, 1000),
    shieldRate: fc.constantFrom(0, 7),
    regenRate: fc.constantFrom(0, 3),
    decay: fc.option(fc.constant({ every: 700, rate: 30, least: 1 })),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 25 }), settings, (deeds, given) => {
      const { match, at, hit, burn, protect, body, parts } = brawling(given)
      let play = 0
      for (const { what, amount, through, wait } of deeds) {
        play += wait
        const wasDown = body().down
        at(play)
        if (what === 'hit') {
          const before = [body().shield, body().health] as const
          const lands = amount > 0 && !body().down && (body().protectedUntil ?? 0) <= play
          hit(amount, through === undefined ? {} : { through })
          if (lands) {
            const split = parts().split(' ').map(Number)
            expect(split.reduce((sum, part) => sum + part, 0)).toBe(amount)
            expect([before[0] - body().shield, before[1] - body().health]).toEqual([split[0], split[2]])
          }
        }
        if (what === 'heal') match.report('brawl.heal', { target: 'otter', amount })
        if (what === 'burn') burn('vole', amount)
        if (what === 'protect') protect('otter', amount * 10)
        const { health, max, shield, shieldMax, down } = body()
        expect(health >= 0 && health <= max && shield >= 0 && shield <= shieldMax).toBe(true)
        if (down) expect(health).toBe(0)
        if (!down && wasDown) expect(health).toBeGreaterThan(0)
      }
      expect(match.faults).toEqual([])
    }),
  )
})
