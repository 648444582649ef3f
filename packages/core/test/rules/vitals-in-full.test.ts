import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type Blow, vitalsMatch } from '../fixtures/vitals-mode.ts'

test.each([
  ['VI11: exactly the shield', { shield: 30 }, 30, {}, '30 0 0 0', 100],
  ['VI12: a quarter of what passes the shield', { shield: 5, armour: 250 }, 15, {}, '5 3 7 0', 93],
  ['VI13: through the shield', { shield: 30, armour: 500 }, 20, { through: 'shield' }, '0 10 10 0', 90],
  ['VI13: through the armour', { shield: 5, armour: 500 }, 20, { through: 'armour' }, '5 0 15 0', 85],
  ['VI13: through all', { shield: 30, armour: 500 }, 20, { through: 'all' }, '0 0 20 0', 80],
  ['VI14: more than there is', { shield: 10 }, 150, {}, '10 0 100 40', 0],
] as const)('%s', (_case, settings, amount, blow, split, health) => {
  const { hit, parts, body } = vitalsMatch(settings)
  expect(hit(amount, blow)).toEqual({ ok: true })
  expect([parts(), body().health]).toEqual([split, health])
})

test('VI5: a blow that a seat has sent off before it went down lands, or is dropped', () => {
  for (const [lateBlows, left] of [
    ['land', 60],
    ['drop', 100],
  ] as const) {
    const { hit, body } = vitalsMatch({ lateBlows })
    hit(100, { by: 'otter' }, 'heron')
    expect(hit(40)).toEqual({ ok: true })
    expect(body().health).toBe(left)
  }
})

test('VI6: who went down at this very ms still strikes back, whatever the order; a ms later it is down', () => {
  const { match, at, body } = vitalsMatch()
  match.submit('heron', 'brawl.strike', { target: 'otter' })
  expect(match.submit('otter', 'brawl.strike', { target: 'heron' })).toEqual({ ok: true })
  expect([body().down, body('heron').down]).toEqual([true, true])
  at(1)
  expect(match.submit('otter', 'brawl.strike', { target: 'vole' })).toMatchObject({ code: 'down' })
})

test('VI8: striking ends one’s own protection, but not where the setting, the blow or oneself as its target says so', () => {
  const protectedStill = (settings: object, blow: Blow, target = 'otter') => {
    const { hit, protect, body } = vitalsMatch(settings)
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
  const all = vitalsMatch()
  all.protect('otter', 2000)
  all.protect('otter', 1000)
  expect(all.body().protectedUntil).toBe(2000)
  for (const by of [undefined, 'otter', 'heron'])
    all.match.report('moves.hit', { target: 'otter', amount: 10, by })
  expect(all.body().health).toBe(100)
  const foes = vitalsMatch({ protects: 'foes' })
  foes.protect('otter', 2000)
  for (const by of [undefined, 'otter', 'heron'])
    foes.match.report('moves.hit', { target: 'otter', amount: 10, by })
  expect(foes.body().health).toBe(80)
})

test('protection that is over is nothing: at its ms, at a down, for who leaves, when the bout ends', () => {
  const { match, at, protect, body } = vitalsMatch({ protects: 'foes' })
  const until = (seat?: string) => body(seat).protectedUntil
  protect('otter', 2000)
  at(1999)
  expect(until()).toBe(2000)
  at(2000)
  expect(until()).toBeUndefined()
  protect('otter', 0)
  expect(until()).toBeUndefined()
  for (const seat of ['otter', 'heron', 'vole']) protect(seat, 60_000)
  match.report('moves.hit', { target: 'otter', amount: 100 }) // by the surroundings
  match.submit('heron', 'roster.leave', {})
  expect([until(), until('heron'), until('vole')]).toEqual([undefined, undefined, 62_000])
  match.direct('phases.abandon', {})
  expect(until('vole')).toBeUndefined()
  expect(match.snapshot().time.timers.filter(({ timer }) => timer === 'vitals.protection')).toEqual([])
})

test('VI15, VI16: healing is clipped at the most, and comes too late for one who has reached 0 in the same step', () => {
  const { match, hit, body } = vitalsMatch()
  const heal = (amount: number) => match.report('moves.heal', { target: 'otter', amount })
  hit(30)
  heal(50)
  expect(body().health).toBe(100)
  hit(100)
  expect(heal(10)).toMatchObject({ code: 'target-down' })
  const late = vitalsMatch()
  late.match.report('brawl.late', { target: 'otter' })
  expect([late.body().down, late.body().health]).toEqual([true, 0])
})

test('VI25: a lower most clamps health and wounds nobody; a higher one leaves it', () => {
  const { match, body, parts } = vitalsMatch()
  match.report('brawl.most', { seat: 'otter', max: 60 })
  expect([body().health, body().max, parts()]).toEqual([60, 60, ''])
  match.report('brawl.most', { seat: 'otter', max: 200 })
  expect([body().health, body().max]).toEqual([60, 200])
})

test('VI28: with downAt0 off nobody goes down at 0', () => {
  const { hit, body } = vitalsMatch({ downAt0: false })
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
      const { match, at, hit, burn, protect, body, parts } = vitalsMatch(given)
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
        if (what === 'heal') match.report('moves.heal', { target: 'otter', amount })
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
