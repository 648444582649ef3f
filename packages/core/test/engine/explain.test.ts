import { expect, test } from 'vitest'
import {
  type AnyMatch,
  amount,
  beginAnyMatch,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  owner,
  perSeat,
  refuse,
  resumeAnyMatch,
  seatRef,
  single,
} from 'zinc-referee'
import { inPhase, roster } from 'zinc-referee/rules'
import { explain, type Question, shortCauses } from 'zinc-referee/testing'
import { code } from '../fixtures/error-code.ts'
import { recorded } from '../fixtures/recorded.ts'

/** An oven: whoever stokes it warms a loaf, which bakes after a while unless it is doused; three loaves make a basket. */
const oven = defineRule({
  name: 'oven',
  needs: [roster],
  state: {
    loaves: perSeat({ heat: int(0).seenBy(owner), baked: flag(false).seenBy(everyone), lid: int(0) }),
    basket: single({ full: flag(false).seenBy(everyone) }),
  },
  drafts: { warm: { seat: seatRef(), by: amount(2) } },
  events: { baked: { seat: seatRef().seenBy(everyone) }, filled: {}, burnt: { seat: seatRef() } },
  timers: {
    bake(match, seat) {
      if (match.own.loaves.of(seat).heat > 90) throw new RangeError('the oven is cracked')
      match.own.loaves.of(seat).baked = true
      match.emit('baked', { seat })
    },
  },
  apply: {
    warm(match, { seat, by }) {
      match.own.loaves.of(seat).heat += by
      if (!match.timers.runs('bake', seat)) match.timers.start('bake', { in: 8000, key: seat })
    },
  },
  settle: {
    wokenBy: ['loaves'],
    run(match) {
      const full = match.seats.every((seat) => match.own.loaves.of(seat).baked)
      if (full && !match.own.basket.full) {
        match.own.basket.full = true
        match.emit('filled', {})
      }
    },
  },
  actions: {
    stoke: {
      when: inPhase('live'),
      input: { logs: int(1).between(1, 3) },
      options: (match, seat) =>
        match.own.loaves.of(seat).lid > 0 ? [] : [{ logs: 1 }, { logs: 2 }, { logs: 3 }],
      decide(match, seat, { logs }) {
        if (match.own.loaves.of(seat).heat + logs > 9) return refuse('too-hot')
        return match.resolve('warm', { seat, by: 2 * logs })
      },
    },
    douse: {
      when: inPhase('live'),
      input: {},
      decide: (match, seat) => match.timers.cancel('bake', seat),
    },
    cover: { input: {}, decide: (match, seat) => void Object.assign(match.own.loaves.of(seat), { lid: 1 }) },
  },
  facts: {
    cracked: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => void Object.assign(match.own.loaves.of(seat), { heat: 99 }),
    },
  },
})
const drizzle = defineRule({
  name: 'drizzle',
  needs: [oven],
  amend: {
    'oven.warm'(_match, draft) {
      if (draft.seat === 'heron') draft.by.add(-1)
    },
  },
})
const book = defineRulebook({ name: 'bakery', seats: { min: 2, max: 3 }, rules: [oven, drizzle] })

type Play = (match: AnyMatch) => void
const record = (play: Play): string => recorded(book, play)
const why = (play: Play, question: string | Question): string[] => {
  const explanation = explain(book, record(play), question)
  return [explanation.answer, ...shortCauses(explanation).map((cause) => cause.says)]
}
const stoke = (match: AnyMatch, seat: string, logs: number) => match.submit(seat, 'oven.stoke', { logs })
/** Stokes once, and lets so much time pass after what is done then. */
const stoked =
  (then: Play = () => {}, until = 20_000): Play =>
  (match) => {
    stoke(match, 'otter', 1)
    then(match)
    match.advanceTo(until)
  }

test('a cell: the input, the draft with what amended it, who wrote it, and what woke whoever did', () => {
  expect(why((match) => stoke(match, 'heron', 2), 'heron.heat')).toEqual([
    'oven.loaves.heron.heat is 3 since 0:00.',
    `heron's oven.stoke {"logs":2}: accepted`,
    'oven action stoke resolves oven.warm {"seat":"heron","by":4}',
    'drizzle amend oven.warm: by 4 → 3',
    'oven.warm apply writes oven.loaves.heron.heat: 0 → 3',
  ])
  const both: Play = (match) => {
    for (const seat of match.seats) stoke(match, seat, 1)
    match.advanceTo(9000)
  }
  expect(why(both, 'full')).toEqual([
    'oven.basket.full is true since 0:08.',
    `heron's oven.stoke {"logs":1}: accepted`,
    'oven.warm apply starts oven.bake of heron, due in 8 s on the play clock',
    'timer oven.bake of heron is due',
    'oven timer bake writes oven.loaves.heron.baked: false → true',
    'oven settle, woken by that, writes oven.basket.full: false → true',
  ])
  expect(why(both, { about: 'cell', cell: 'full', at: 8000 })[0]).toBe(
    'oven.basket.full is false from the start: nothing has written it.',
  )
  const deep = explain(book, record(both), 'otter heat').causes.map(({ says }) => says)
  expect(deep).toContain('roster.here gate: lets it through')
  expect(deep).toContain('it read oven.loaves.otter.heat = 0')
})

test('a ruling: what refused it and what that read, or what it did', () => {
  const hot: Play = (match) => {
    for (const logs of [3, 3, 2]) stoke(match, 'otter', logs)
    match.advanceTo(1500)
    for (const logs of [7]) stoke(match, 'otter', logs)
  }
  expect(why(hot, "otter's stoke at 0:00")).toEqual([
    `otter's oven.stoke {"logs":2} was refused with too-hot. The rules of this mode refuse it: too-hot.`,
    'oven action stoke refuses it with too-hot',
    'it read oven.loaves.otter.heat = 12',
  ])
  expect(why(hot, 'line 6')).toEqual([
    `otter's oven.stoke {"logs":3} was accepted.`,
    'oven action stoke resolves oven.warm {"seat":"otter","by":6}',
    'oven.warm apply writes oven.loaves.otter.heat: 0 → 6',
    'oven.warm apply starts oven.bake of otter, due in 8 s on the play clock',
  ])
  expect(why(hot, { about: 'action', seat: 'otter', action: 'oven.stoke' })).toEqual([
    expect.stringMatching(/was refused with bad-input.*'logs' must be 1 to 3, not 7/),
    'It was refused before any rule was asked.',
  ])
})

const BAKE = 'oven.bake of otter'
test.each<[string, Play, string, readonly string[]]>([
  [
    'it waits',
    stoked(() => {}, 3000),
    `oven.baked of otter has not happened: ${BAKE} is due in 5.001 s on the play clock.`,
    [],
  ],
  [
    'it was called off',
    stoked((match) => {
      match.advanceTo(3000)
      match.submit('otter', 'oven.douse', {})
    }),
    `oven.baked of otter has not happened: ${BAKE} was stopped at 0:03, 5.001 s before it was due.`,
    ["otter's oven.douse {}: accepted", `oven action douse stops ${BAKE}`],
  ],
  [
    'its clock stands still',
    stoked((match) => {
      match.advanceTo(3000)
      match.direct('phases.pause', {}, { referee: 'vole' })
    }),
    `oven.baked of otter has not happened: ${BAKE} is due in 5.001 s on the play clock, which stands still since 0:03.`,
    ['phases.pause by vole {}: accepted', 'phases directive pause stops the clock: play'],
  ],
])('why it did not happen: %s', (_what, play, answer, more) => {
  expect(why(play, 'oven.baked of otter')).toEqual([
    answer,
    `otter's oven.stoke {"logs":1}: accepted`,
    'oven action stoke resolves oven.warm {"seat":"otter","by":2}',
    `oven.warm apply starts ${BAKE}, due in 8 s on the play clock`,
    ...more,
  ])
})

test('why it did not happen: its handler threw, it was never begun, not all was there, nothing makes it', () => {
  expect(
    why(
      stoked((match) => match.report('oven.cracked', { seat: 'otter' })),
      'bake of otter',
    )[0],
  ).toBe(
    `oven.bake of otter has not happened: ${BAKE} was due at 0:08, and its handler threw RangeError: the oven is cracked.`,
  )
  expect(why(stoked(), 'oven.baked of heron')).toEqual([
    'oven.baked of heron has never happened. It is made by oven timer bake, which has not run for heron.',
    `otter's oven.stoke {"logs":1}: accepted`,
    `oven.warm apply starts ${BAKE}, due in 8 s on the play clock`,
    `timer ${BAKE} is due`,
    'oven timer bake raises oven.baked {"seat":"otter"}',
  ])
  expect(why(stoked(), 'oven.filled')).toEqual([
    'oven.filled has never happened. oven settle could have made it so: it last ran at 0:08, and did not.',
    `otter's oven.stoke {"logs":1}: accepted`,
    `oven.warm apply starts ${BAKE}, due in 8 s on the play clock`,
    'oven timer bake writes oven.loaves.otter.baked: false → true',
    'oven settle, woken by that, runs',
    'it read oven.loaves.otter.baked = true, oven.loaves.heron.baked = false',
  ])
  expect(why(stoked(), 'oven.burnt of heron')[0]).toBe(
    'oven.burnt of heron has never happened, and no handler names it in its own text. oven settle last ran at 0:08, and did not raise it.',
  )
})

test('what came, and what comes again, is told from the last time on', () => {
  expect(why(stoked(), 'oven of otter')[0]).toBe('oven.baked of otter happened at 0:08.')
  const twice = stoked((match) => {
    match.advanceTo(9000)
    stoke(match, 'otter', 1)
  }, 10_000)
  expect(why(twice, 'oven.baked of otter')[0]).toBe(
    `oven.baked of otter has not happened again since 0:08: ${BAKE} is due in 7 s on the play clock.`,
  )
})

test('an option and a sight: who refuses it, what the rule lists, for whom it is declared', () => {
  expect(why(stoked(), 'option stoke of otter')).toEqual(['At 0:20, otter has 3 of 3 options of oven.stoke.'])
  expect(why(stoked(), 'option stoke {"logs":9} of otter')[0]).toBe(
    'At 0:20, oven.stoke {"logs":9} is no option of otter: it would be refused with bad-input.',
  )
  const hot: Play = (match) => void [3, 3, 2].map((logs) => stoke(match, 'otter', logs))
  expect(why(hot, 'option oven.stoke of otter')).toEqual([
    'At 0:00, otter has 0 of 3 options of oven.stoke; refused are 3 with too-hot.',
    'oven action stoke refuses it with too-hot',
    'it read oven.loaves.otter.heat = 12',
  ])
  const halted = stoked((match) => match.direct('phases.pause', {}))
  expect(why(halted, 'option cover of otter')[0]).toMatch(/has 0 of 1 options .* refused are 1 with paused/)
  const covered = stoked((match) => match.submit('otter', 'oven.cover', {}))
  expect(why(covered, 'option stoke of otter')).toEqual([
    'At 0:20, the rule lists nothing that otter could do with oven.stoke.',
  ])
  expect(why(stoked(), 'heron sees otter.heat')).toEqual([
    'At 0:20, heron does not see oven.loaves.otter.heat.',
    'oven.loaves.otter.heat is declared as seen by its owner',
  ])
  expect(why(stoked(), 'otter sees otter.heat')[0]).toBe('At 0:20, otter sees oven.loaves.otter.heat.')
})

test('a record that begins with a snapshot is explained from there on', () => {
  const first = beginAnyMatch(book, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  for (const seat of ['otter', 'heron']) first.direct('roster.join', { seat, name: seat })
  for (const seat of ['otter', 'heron']) first.submit(seat, 'roster.ready', {})
  first.advanceTo(1)
  stoke(first, 'otter', 1)
  const lines: string[] = []
  const later = resumeAnyMatch(book, first.snapshot(), { newRecord: (line) => lines.push(line) })
  later.advanceTo(1000)
  stoke(later, 'heron', 1)
  later.advanceTo(9000)
  later.close()
  const answers = ['otter.heat', 'heron.heat', 'oven.baked of otter'].map(
    (question) => explain(book, lines.join('\n'), question).answer,
  )
  expect(answers).toEqual([
    'oven.loaves.otter.heat is 2 from the start: nothing has written it.',
    'oven.loaves.heron.heat is 1 since 0:01.',
    'oven.baked of otter happened at 0:08.',
  ])
})

test.each([
  ['otter.fish', /no cell of otter, event or timer 'fish'.*heat, baked/],
  ['filled', /'filled' is more than one event or timer.*roster\.filled, oven\.filled/],
  ['fish', /There are roster, oven, drizzle, phases\./],
  ['oven.baked of vole', /no seat 'vole' in this match. There are otter, heron/],
  ['line 99', /no input at line '99'/],
  ["vole's stoke", /no seat 'vole' in this match. There are otter, heron/],
  ["otter's stoke at 0:00", /no input 'otter's oven.stoke'/],
  ['verdict', /no cell, action, event, timer or rule 'verdict'/],
  ['option stoke {logs} of otter', /no input in JSON/],
])('a question about what is not there, %s, is told what is', (question, says) => {
  const asked = () =>
    explain(
      book,
      record(() => {}),
      question,
    )
  expect(code(asked)).toBe('ZR_QUESTION_UNKNOWN')
  expect(asked).toThrow(says)
})
