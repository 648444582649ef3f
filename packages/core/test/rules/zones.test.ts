import fc from 'fast-check'
import { expect, test } from 'vitest'
import { declareRule, defineRule, defineRulebook, list, type MatchOf, single, text } from 'zinc-referee'
import { mostAtTime, respawn, rounds, scores, teams, verdict, vitals, zones } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const shape = declareRule({
  name: 'quay',
  needs: [zones],
  state: { told: single({ lines: list(text(), []) }) },
})
function tell(match: MatchOf<typeof shape>, line: string) {
  match.own.told.lines = [...match.own.told.lines, `${match.time.play} ${line}`]
}
const quay = shape.does({
  on: {
    'zones.entered': (match, { seat }) => tell(match, `entered ${seat}`),
    'zones.left': (match, { seat }) => tell(match, `left ${seat}`),
    'zones.captured': (match, { side }) => tell(match, `captured ${side}`),
    'zones.lost': (match, { side }) => tell(match, `lost ${side}`),
  },
})
/** Who stands on the mill pushes half as hard again. */
const millers = defineRule({
  name: 'millers',
  needs: [zones],
  amend: {
    'zones.rate'(_, rate) {
      rate.amount.times(1.5)
    },
  },
})
const rules = [
  rounds({ length: 60_000 }),
  vitals,
  scores,
  zones({ names: ['mill', 'lock'] }),
  respawn({ after: 5000 }),
  verdict({ when: [mostAtTime] }),
  moves,
  quay,
] as const
const seats = { min: 2, max: 4 }
const book = defineRulebook({ name: 'quay', seats, rules })
const crews = defineRulebook({ name: 'crews', seats, rules: [...rules, teams({ count: 2 })] })
const milled = defineRulebook({ name: 'milled', seats, rules: [...rules, millers] })
const START = 3000

function quayMatch(given: object = {}, of: typeof book | typeof crews | typeof milled = book) {
  const { match } = playMatch(of as typeof book, ['otter', 'heron', 'vole'], { settings: { zones: given } })
  return {
    match,
    hear: () => match.state.quay.told.lines,
    at: (play: number) => match.advanceTo(START + play),
    enter: (seat: string, zone = 'mill') => match.report('zones.enter', { seat, zone }),
    leave: (seat: string, zone = 'mill') => match.report('zones.leave', { seat, zone }),
    zone: (name = 'mill') =>
      Object.values(match.view('spectator').zones.zones).find((zone) => zone.name === name),
  }
}

test('check value: heads count each, 4 + 4 + 2 seconds make ten', () => {
  const { at, enter, leave, hear } = quayMatch({ perHead: 'each' }, crews)
  enter('otter')
  at(4000)
  enter('vole')
  at(6000)
  leave('otter')
  at(9000)
  expect(hear()).toEqual(['0 entered otter', '4000 entered vole', '6000 left otter', '8000 captured 0'])
})

test('HO10: two sides stop it, or the one with more heads goes on by the difference', () => {
  const { at, enter, leave, zone } = quayMatch()
  enter('otter')
  at(7000)
  enter('heron')
  at(9000)
  expect(zone()).toMatchObject({ contested: true, progress: 7_000_000, rate: 0, owner: '' })
  leave('heron')
  at(11_999)
  expect(zone()).toMatchObject({ owner: '' })
  at(12_000)
  expect(zone()).toMatchObject({ owner: 'otter', contested: false })

  const more = quayMatch({ contested: 'more-heads', perHead: 'each' }, crews)
  for (const seat of ['otter', 'vole', 'heron']) more.enter(seat)
  expect(more.zone()).toMatchObject({ side: '0', rate: 1000, contested: true })
  more.leave('vole')
  expect(more.zone()).toMatchObject({ side: '0', rate: 0 })
})

test('HO9, HO11, HO12: an instant visit makes no progress; a capture at t comes before a foe at t, not at t - 1', () => {
  const { at, enter, leave, zone, hear } = quayMatch()
  enter('heron')
  leave('heron')
  expect(hear()).toEqual(['0 entered heron', '0 left heron'])
  expect(zone()).toMatchObject({ progress: 0 })
  enter('otter')
  at(10_000)
  enter('heron')
  expect(zone()).toMatchObject({ owner: 'otter' })

  const late = quayMatch()
  late.enter('otter')
  late.at(9999)
  late.enter('heron')
  late.at(30_000)
  expect(late.zone()).toMatchObject({ owner: '', progress: 9_999_000 })
})

test('HO13: another side first brings it down to nothing, then up', () => {
  const { at, enter, leave, hear, zone } = quayMatch()
  enter('otter')
  at(10_000)
  leave('otter')
  enter('heron')
  at(15_000)
  expect(zone()).toMatchObject({ owner: 'otter', side: 'otter' })
  at(30_000)
  expect(hear().slice(1)).toEqual([
    '10000 captured otter',
    '10000 left otter',
    '10000 entered heron',
    '20000 lost otter',
    '30000 captured heron',
  ])
})

test('HO14: who goes down is not there any more, and must come in again; a protected seat counts', () => {
  const { at, match, enter, zone } = quayMatch()
  enter('otter')
  at(4000)
  match.report('moves.fell', { seat: 'otter' })
  at(9000)
  expect(zone()).toMatchObject({ progress: 4_000_000, rate: 0 })
  enter('otter')
  expect(zone()).toMatchObject({ rate: 1000 })
  expect(match.state.vitals.body.of('otter').protectedUntil).toBe(11_000)
})

test('HO15: a point for each full stretch of ownership, contested or not; one due at the end of the round counts', () => {
  const { at, match, enter } = quayMatch({ scoreEvery: 25_000, needed: 10_000 })
  enter('otter')
  at(11_000)
  enter('heron')
  at(60_000)
  expect(match.state.scores.sums.of('otter').score).toBe(2)
  expect(match.view('spectator').verdict.end).toMatchObject({ kind: 'win', winners: ['otter'] })
  expect(match.state.scores.ledger.all().map(({ reason, at }) => [reason, at])).toEqual([
    ['zone-held', 35_000],
    ['zone-held', 60_000],
  ])
})

test("HO15: who has left gets no points; that side's lowest seat does", () => {
  const { at, match, enter } = quayMatch({ scoreEvery: 5000, needed: 1000 }, crews)
  enter('otter')
  at(1000)
  match.submit('otter', 'roster.leave', {})
  at(6000)
  expect(match.state.scores.sums.of('vole').score).toBe(1)
})

test('HO16: an amended rate is exact; only the due is rounded up', () => {
  const { at, enter, zone } = quayMatch({ needed: 1000 }, milled)
  enter('otter')
  at(666)
  expect(zone()).toMatchObject({ owner: '' })
  at(667)
  expect(zone()).toMatchObject({ owner: 'otter', progress: 1_000_000 })
})

test('empty: progress stays, drains, or is gone; of an owned zone it comes back', () => {
  const after = (whenEmpty: string) => {
    const { at, enter, leave, zone } = quayMatch({ whenEmpty })
    enter('otter')
    at(4000)
    leave('otter')
    at(5000)
    enter('otter')
    return zone()?.progress
  }
  expect(['keeps', 'drains', 'resets'].map(after)).toEqual([4_000_000, 3_000_000, 0])
  const { at, enter, leave, zone } = quayMatch({ whenEmpty: 'drains' })
  enter('otter')
  at(10_000)
  leave('otter')
  enter('heron')
  at(15_000)
  leave('heron')
  at(20_000)
  expect(zone()).toMatchObject({ owner: 'otter', progress: 10_000_000, rate: 0 })
})

test('HO5: in a pause no time passes; a new round begins with free zones and nobody in them', () => {
  const { match, at, enter, zone } = quayMatch()
  enter('otter')
  at(4000)
  match.direct('phases.pause', {})
  at(9000)
  match.direct('phases.resume', {})
  at(14_999)
  expect(zone()).toMatchObject({ owner: '' })
  at(15_000)
  expect(zone()).toMatchObject({ owner: 'otter' })
})

test('bad input: unknown zones and seats out of play are refused, and a name twice fails as it is defined', () => {
  const { match, enter, leave } = quayMatch()
  expect(enter('otter', 'bridge')).toMatchObject({ code: 'bad-input' })
  expect(leave('pike')).toMatchObject({ code: 'no-such-target' })
  match.submit('vole', 'roster.leave', {})
  expect(enter('vole')).toMatchObject({ code: 'not-in-play' })
  match.report('moves.fell', { seat: 'otter' })
  expect(enter('otter')).toMatchObject({ code: 'target-down' })
  expect(() =>
    defineRulebook({ name: 'twice', seats, rules: [vitals, zones({ names: ['mill', 'mill'] })] }),
  ).toThrow("'names' has one twice")
})

/** A millisecond at a time, with no thought of dues. */
class Ticks {
  private progress = 0
  private side = ''
  owner = ''
  readonly told: string[] = []
  private readonly inside = new Set<string>()

  go(seat: string, isIn: boolean) {
    if (isIn) this.inside.add(seat)
    else this.inside.delete(seat)
  }

  tick(now: number, needed: number) {
    if (this.inside.size !== 1) return
    const [side = ''] = this.inside
    if (this.progress === 0 && this.owner === '') this.side = side
    this.progress = Math.max(0, Math.min(needed, this.progress + (side === this.side ? 1 : -1)))
    if (this.progress === needed && this.owner === '') {
      this.owner = side
      this.told.push(`${now} captured ${side}`)
    }
    if (this.progress === 0 && this.owner !== '') {
      this.told.push(`${now} lost ${this.owner}`)
      this.owner = ''
    }
  }
}

test('law: the same as a simulation of each millisecond', () => {
  const moves = fc.array(
    fc.record({
      wait: fc.integer({ min: 0, max: 900 }),
      seat: fc.constantFrom('otter', 'heron', 'vole'),
      isIn: fc.boolean(),
    }),
    { maxLength: 25 },
  )
  fc.assert(
    fc.property(moves, fc.integer({ min: 1, max: 1200 }), (list, needed) => {
      const { at, enter, leave, hear } = quayMatch({ needed })
      const ticks = new Ticks()
      let now = 0
      for (const { wait, seat, isIn } of [...list, { wait: 3000, seat: 'otter', isIn: true }]) {
        for (let ms = 1; ms <= wait; ms++) ticks.tick(now + ms, needed)
        now += wait
        at(now)
        ;(isIn ? enter : leave)(seat)
        ticks.go(seat, isIn)
      }
      expect(hear().filter((line) => /captured|lost/.test(line))).toEqual(ticks.told)
    }),
    { numRuns: 60 },
  )
})
