import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, owner, perSeat, refuse, table, text } from 'zinc-referee'
import { firstTo, scores, verdict } from 'zinc-referee/rules'
import { readScenario, rehearse, runScenario, scenarioSchema } from 'zinc-referee/testing'
import { fact } from '../fixtures/inputs.ts'

const stall = defineRule({
  name: 'stall',
  needs: [scores],
  state: {
    sold: perSeat({ jars: int(0).seenBy(owner) }),
    shelf: table({ kind: text().seenBy(everyone), price: int(2).seenBy(everyone) }),
  },
  events: { sale: { jars: int().seenBy(everyone) }, murmur: { word: text() } },
  setUp: (match) => void match.own.shelf.add({ kind: 'plum' }),
  actions: {
    sell: {
      input: { jars: int().between(1, 3) },
      decide(match, seat, { jars }) {
        if (match.own.sold.of(seat).jars > 3) return refuse('sold-out')
        match.own.sold.of(seat).jars += jars
        match.emit('sale', { jars })
        return match.use(scores).give({ seat, amount: jars, reason: 'sold' })
      },
    },
  },
  facts: {
    crash: fact({}, () => {
      throw new Error('the shelf fell')
    }),
  },
})
const book = defineRulebook({
  name: 'jam-stall',
  seats: { min: 1, max: 4 },
  rules: [scores, verdict({ when: [firstTo(5)] }), stall],
})
const play = (...steps: object[]) =>
  runScenario(book, readScenario({ scenario: 'jars', seats: ['otter', 'heron'], steps }))

test('what comes as expected: rulings, views, rows, notices, options and the verdict', () => {
  const sell = { act: 'stall.sell', seat: 'otter' }
  const { unmet, faults, compared } = play(
    { ...sell, input: { jars: 9 }, refused: 'bad-input' },
    {
      ...sell,
      at: '0:04',
      input: { jars: 3 },
      shows: { otter: { 'stall.sold.otter.jars': 3 }, spectator: { 'scores.sums.otter.score': 3 } },
      hides: { heron: ['stall.sold.otter.jars', 'stall.none'] },
      has: { spectator: { 'stall.shelf': [{ kind: 'plum', price: 2 }, { kind: 'plum' }] } },
      notices: { heron: ['stall.sale', { name: 'stall.sale', cells: { jars: 3 } }] },
      silent: { heron: ['stall.murmur'] },
      options: { otter: { 'stall.sell': [{ jars: 3 }, { jars: 1 }, { jars: 2 }] } },
    },
    {
      after: '1.5s',
      ...sell,
      input: { jars: 2 },
      verdict: { kind: 'win', winners: ['otter'], reason: 'goal-reached' },
    },
    { ...sell, input: { jars: 1 }, refused: 'over', silent: { heron: ['stall.sale'] } },
  )
  expect([unmet, faults, compared]).toEqual([[], [], 16])
})

test('what does not is named with its step, its time, what was expected and what was found; a fault fails it too', () => {
  const { unmet, faults } = play(
    { act: 'stall.sell', seat: 'otter', input: { jars: 2 }, refused: 'sold-out' },
    {
      after: '3s',
      shows: { heron: { 'scores.sums.otter.score': 5, 'stall.sold.otter.jars': 2 } },
      hides: { otter: ['stall.sold.otter.jars'] },
      has: { otter: { 'stall.shelf': [{ kind: 'fig' }] } },
      notices: { heron: ['stall.sale'] },
      options: { heron: { 'stall.sell': [] } },
      verdict: { kind: 'draw' },
    },
    { at: '0:01' },
    { report: 'stall.crash' },
  )
  expect(unmet.map(({ step, at, what, expected, found }) => [step, at, what, expected, found])).toEqual([
    [1, 0, "the ruling on otter's stall.sell", '"sold-out"', '"accepted"'],
    [2, 3000, 'heron sees scores.sums.otter.score', '5', '2'],
    [2, 3000, 'heron sees stall.sold.otter.jars', '2', 'nothing'],
    [2, 3000, 'otter does not see stall.sold.otter.jars', 'nothing', '2'],
    [2, 3000, 'otter sees in stall.shelf', '{"kind":"fig"}', '[{"kind":"plum","price":2}]'],
    [2, 3000, 'heron is sent stall.sale', '"stall.sale"', 'nothing'],
    [2, 3000, 'the options of heron for stall.sell', '[]', '[{"jars":1},{"jars":2},{"jars":3}]'],
    [2, 3000, 'the verdict', '{"kind":"draw"}', '{"kind":null}'],
    [3, 3000, 'the time of the step', '"a time that is still to come"', '"one that is over"'],
    [4, 3000, 'the ruling on stall.crash', '"accepted"', '"fault"'],
  ])
  expect(faults).toMatchObject([{ error: expect.stringContaining('the shelf fell') }])
})

test('a scenario that does not fit is refused with the path of each problem', () => {
  const issues = (scenario: object): readonly string[] => {
    try {
      readScenario({ scenario: 'jars', seats: ['otter'], steps: [{}], ...scenario })
      return []
    } catch (error) {
      return Object(error).details.issues
    }
  }
  expect(issues({})).toEqual([])
  expect(issues({ sets: {}, steps: [{ reprot: 'x', after: 'soon', act: 'a' }] })).toEqual([
    "steps.1: there is no 'reprot' (did you mean 'report'?)",
    "the scenario: there is no 'sets' (did you mean 'seats'?)",
  ])
  expect(
    issues({ steps: [{ act: 'a', report: 'b', at: '1:00', after: 'soon' }, { refused: 'no' }] }),
  ).toEqual([
    'steps.1: it does one thing, not act and report',
    "steps.1: an action needs its 'seat'",
    "steps.1: it has 'at' or 'after', not both",
    "steps.1: 'soon' is not a time. Write 1:30, 90s or 1500ms",
    'steps.2: nothing is done that could be refused',
  ])
  expect(issues({ seats: [], steps: 'none' })).toEqual([
    'seats: must name at least one seat',
    'steps: must be a list',
  ])
  expect(scenarioSchema()).toMatchObject({ required: ['scenario', 'seats', 'steps'] })
})

test('a rehearsal counts wins with their intervals, what was done, faults, and matches that do not end', () => {
  const seats = ['otter', 'heron']
  const sells = (jars: number, crash = false) => ({
    every: 1000,
    beat(match: any) {
      match.submit('otter', 'stall.sell', { jars })
      if (crash) match.report('stall.crash', {})
    },
  })
  const went = rehearse(book, { seats, matches: 10, crowd: () => sells(3, true) })
  expect(went.endings).toEqual([{ name: 'win: goal-reached', times: 10 }])
  // The intervals of 10 and 0 of 10, as published.
  expect(went.seats).toEqual([
    { name: 'otter', times: 10, of: 10, interval: [expect.closeTo(0.7225, 4), expect.closeTo(1)] },
    { name: 'heron', times: 0, of: 10, interval: [expect.closeTo(0), expect.closeTo(0.2775, 4)] },
  ])
  expect(went.actions).toContainEqual({ name: 'stall.sell', times: 20 })
  expect(went.faults[0]).toMatchObject({ error: 'Error: the shelf fell' })
  expect(went.lengths).toEqual([went.lengths[1], went.lengths[1], went.lengths[1]])
  const endless = rehearse(book, { seats, matches: 2, crowd: () => sells(9), until: 60_000 })
  expect(endless).toMatchObject({ over: 0, endings: [{ name: 'not over', times: 2 }], seats: [] })
})

test('a rehearsal finds what is offered and refused, and what plays differently the second time', () => {
  // It keeps count outside the match, as no rule may: each second time that it is asked, it refuses.
  let asked = 0
  const moody = defineRule({
    name: 'moody',
    needs: [scores],
    actions: {
      ask: {
        offered: true,
        input: {},
        decide: (match, seat) =>
          asked++ % 2 === 1
            ? refuse('not-now')
            : match.use(scores).give({ seat, amount: 1, reason: 'asked' }),
      },
    },
  })
  const book = defineRulebook({
    name: 'moody',
    seats: { min: 1, max: 1 },
    rules: [scores, verdict({ when: [firstTo(5)] }), moody],
  })
  const crowd = () => ({
    every: 500,
    beat(match: any) {
      if (match.options('otter', 'moody.ask').length > 0) match.submit('otter', 'moody.ask', {})
    },
  })
  const { findings } = rehearse(book, { seats: ['otter'], matches: 1, crowd, until: 10_000 })
  const found = new Map(findings.map(({ kind, says }) => [kind, says]))
  expect(found.get('refused')).toBe('moody.ask is offered and refused: not-now')
  expect([...found.keys()]).toEqual(expect.arrayContaining(['refused', 'replayed', 'law']))
  const [finding] = findings
  if (finding === undefined) throw new Error('nothing was found')
  expect(finding.record.split('\n')[0]).toContain('"rulebook":"moody"')
})
