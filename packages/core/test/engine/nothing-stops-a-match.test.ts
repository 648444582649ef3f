import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  type Fault,
  flag,
  gate,
  group,
  int,
  only,
  perSeat,
  resumeMatch,
  seatRef,
  side,
} from 'zinc-referee'
import { Replica } from 'zinc-referee/replica'
import { inPhase, roster } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { broken, SEATS, trap } from '../fixtures/broken-mode.ts'
import { action } from '../fixtures/inputs.ts'

const asked: { readonly [where: string]: { readonly book: any; readonly handler: string } } = {
  'options that are offered': {
    book: broken({
      actions: {
        pick: {
          offered: true,
          input: { n: int() },
          options: (match: any) => {
            trap(match)
            return [{ n: 1 }]
          },
          decide() {},
        },
      },
    }),
    handler: 'stall options pick',
  },
  'an offered action when it is tried': {
    book: broken({ actions: { pick: { offered: true, input: {}, decide: trap } } }),
    handler: 'stall action pick',
  },
  'a gate of an offered action': {
    book: broken({
      gates: { shut: { place: 'role', check: trap } },
      actions: {
        pick: {
          offered: true,
          when: gate('stall.shut'),
          input: {},
          decide() {},
        },
      },
    }),
    handler: 'stall.shut gate',
  },
  'the sides that a timer is seen by': {
    book: broken({
      sides: (match: any, seat: string) => {
        trap(match)
        return [seat]
      },
      timers: { bell: { seenBy: side } },
      actions: {
        ring: action({}, (match, seat) => match.timers.start('bell', { in: 9000, key: seat })),
      },
    }),
    handler: 'stall timer bell seenBy',
  },
}

test.each(Object.entries(asked))(
  '%s that throws is a fault, and everybody is told all else',
  (_, { book, handler }) => {
    const { match, replay }: any = playMatch(book, SEATS)
    if (
      match
        .describe()
        .rules.some(({ actions }: any) => actions.some(({ name }: any) => name === 'stall.ring'))
    )
      match.submit('otter', 'stall.ring', {})
    const viewers = [...SEATS, 'spectator']
    const replicas = viewers.map((viewer) => {
      const { view, at } = match.addViewer(viewer)
      return new Replica({ view: JSON.parse(view), at }, at)
    })
    const flush = (): void => {
      for (const { viewer, at, patch, notices } of match.flush())
        replicas[viewers.indexOf(viewer)]?.update({ at, patch: JSON.parse(patch), notices }, at)
      expect(replicas.map(({ view }) => view)).toEqual(viewers.map((viewer) => match.view(viewer)))
    }
    for (const fact of ['stall.arm', 'stall.disarm']) {
      expect(match.report(fact, {})).toEqual({ ok: true })
      for (const seat of SEATS) expect(match.submit(seat, 'stall.fill', {})).toEqual({ ok: true })
      flush()
    }
    expect(Object.keys(match.faultCounts)).toEqual([handler])
    expect(match.faults[0]).toMatchObject({ handler, error: new Error('my bug') })
    expect(match.state.stall.jars.of('heron').n).toBe(2)
    expect(replay().differs).toBeUndefined()
  },
)

test('a sight, mask, derived cell or group that throws fails the step that asked it; at the beginning nobody sees the row', () => {
  const rows = (more: (part: any) => any) =>
    broken({
      state: { cups: more(perSeat({ open: flag(false), n: int(7) })) },
      actions: {
        open: action({}, (match, seat) => {
          match.own.cups.of(seat).open = true
        }),
      },
      groups: {
        keen: (match: any) => match.seats.filter((seat: string) => match.own.cups.of(seat).open && bug()),
      },
    })
  const bug = (): never => {
    throw new Error('my bug')
  }
  const cases = [
    [
      rows((part) => part.seenWhen({ n: ({ open }: any) => (open ? bug() : everyone) })),
      'stall.cups seenWhen',
    ],
    [
      rows((part) =>
        part
          .seenWhen({ n: ({ id }: any) => only(id) })
          .maskedBy({ n: { to: everyone, as: ({ open }: any) => (open ? bug() : 0) } }),
      ),
      'stall.cups maskedBy n',
    ],
    [
      rows((part) =>
        part.derives({ twice: { to: everyone, as: ({ open, n }: any) => (open ? bug() : n * 2) } }),
      ),
      'stall.cups derives twice',
    ],
    [
      rows((part) => part.seenWhen({ n: (_: any, look: any) => look.members(group('stall.keen')) })),
      'stall group keen',
    ],
  ] as const
  for (const [book, handler] of cases) {
    const { match }: any = playMatch(book, SEATS)
    const before = match.hash()
    expect([handler, match.submit('otter', 'stall.open', {}).code]).toEqual([handler, 'fault'])
    expect(Object.keys(match.faultCounts)).toEqual([handler])
    expect(match.hash()).toBe(before)
    expect(match.submit('heron', 'stall.fill', {})).toEqual({ ok: true })
  }
  // What a snapshot holds may make the sights of a newer version throw.
  let isBad = false
  const turning = rows((part) => part.seenWhen({ n: () => (isBad ? bug() : everyone) }))
  const { match }: any = playMatch(turning, SEATS)
  isBad = true
  const faults: Fault[] = []
  const resumed: any = resumeMatch(turning, match.snapshot(), { onFault: (fault) => faults.push(fault) })
  expect(faults.map(({ handler }) => handler)).toEqual(['stall.cups seenWhen', 'stall.cups seenWhen'])
  expect(resumed.view('otter').stall.cups).toEqual({})
  isBad = false
  resumed.submit('otter', 'stall.fill', {})
  expect(resumed.view('otter').stall.cups).toEqual({ otter: { n: 7 }, heron: { n: 7 } })
})

test('an answer that is no ruling is a fault, wherever it comes from; nothing of the step stays', () => {
  const cups = { state: { cups: perSeat({ n: int(0).seenBy(everyone) }) }, needs: [roster] }
  for (const bad of [true, false, null, 7, {}]) {
    const fill = (match: any, seat: string): any => {
      match.own.cups.of(seat).n++
      return bad
    }
    const pour: any = defineRule({
      name: 'stall',
      ...cups,
      gates: { shut: { place: 'role', check: () => bad as any } },
      drafts: { sip: { seat: seatRef() } },
      apply: { sip: (match: any, { seat }: any) => fill(match, seat) },
      amend: { 'roster.leave': () => bad as any },
      actions: {
        fill: { when: inPhase('lobby'), input: {}, decide: fill },
        pour: {
          when: inPhase('lobby'),
          input: {},
          decide: (match: any, seat: string) => match.resolve('sip', { seat }),
        },
        knock: { when: [inPhase('lobby'), gate('stall.shut')], input: {}, decide() {} },
      },
    } as any)
    const match: any = beginMatch(defineRulebook({ name: 'b', seats: { min: 1, max: 2 }, rules: [pour] }), {
      seed: 'x',
    })
    match.direct('roster.join', { seat: 'otter', name: 'Otter' })
    for (const action of ['stall.fill', 'stall.pour', 'stall.knock', 'roster.leave'])
      expect([action, bad, match.submit('otter', action, {}).code]).toEqual([action, bad, 'fault'])
    expect(match.faults.map(({ error }: any) => error.code)).toEqual(Array(4).fill('ZR_RULE_BAD_ANSWER'))
    expect(match.state.stall.cups.of('otter').n).toBe(0)
  }
})

test('options that do not fit their action are a fault, not silence', () => {
  const book = broken({
    actions: { pick: { input: { n: int() }, options: () => [{ m: 1 }, { n: 2 }], decide() {} } },
  })
  const { match }: any = playMatch(book, SEATS)
  expect(match.options('otter', 'stall.pick')).toEqual([{ n: 2 }])
  expect(match.faults[0].error.code).toBe('ZR_RULE_BAD_OPTION')
})

test('every fault is told and counted, also by a host that throws; what is only asked changes no ruling', () => {
  const book = broken({
    actions: { pick: { offered: true, input: {}, decide: trap } },
    facts: { fall: { input: {}, handle: () => (undefined as any).deep } },
  })
  const [told, ids]: [Fault[], unknown[][]] = [[], [[], []]]
  for (const [at, isWatched] of [true, false].entries()) {
    const { match }: any = playMatch(book, SEATS, {
      onFault(fault) {
        told.push(fault)
        throw new Error('the log is full')
      },
    })
    match.report('stall.arm', {})
    for (let n = 0; n < 30; n++) {
      if (isWatched) match.options('otter', 'stall.pick')
      ids[at]?.push(match.report('stall.fall', {}), match.report('stall.arm', {}))
    }
    expect(match.faults).toHaveLength(20)
    expect(match.faultCounts['stall fact fall']).toBe(30)
    expect(match.faultCounts['host onFault']).toBe(isWatched ? 60 : 30)
  }
  expect(ids[0]).toEqual(ids[1])
  expect(told.filter(({ handler }) => handler === 'stall fact fall')).toHaveLength(60)
})

test('a kept action ends the row of faults of settling only if rules have settled in it', () => {
  for (const settles of [true, false]) {
    const book = broken({
      settle: { wokenBy: ['jars'], run: trap },
      actions: { wait: { input: {}, decide() {} } },
    })
    const { match }: any = playMatch(book, SEATS)
    match.report('stall.arm', {})
    for (let n = 0; n < 19; n++) match.submit('heron', 'stall.fill', {})
    if (settles) {
      match.report('stall.disarm', {})
      match.report('stall.arm', {})
    }
    expect(match.submit('otter', 'stall.wait', {})).toEqual({ ok: true })
    match.submit('heron', 'stall.fill', {})
    expect([settles, match.view('otter').phases.now.phase]).toEqual([settles, settles ? 'live' : 'over'])
  }
})

test('twenty faults in a row of timers and settlings void the bout, resumed or not; as many of a seat stop its actions, not its leaving', () => {
  const book = broken({
    timers: { beat: trap },
    setUp: (match: any) => match.timers.start('beat', { every: 100 }),
    settle: { wokenBy: ['jars'], run: trap },
    actions: { slip: { input: {}, decide: trap } },
  })
  const { match }: any = playMatch(book, SEATS)
  for (let n = 0; n < 20; n++) match.submit('otter', 'stall.slip', {})
  expect(match.view('otter').phases.now.phase).toBe('live') // nothing is armed yet
  match.report('stall.arm', {})
  for (let n = 0; n < 20; n++) expect(match.submit('otter', 'stall.slip', {}).code).toBe('fault')
  expect(match.submit('otter', 'stall.slip', {}).code).toBe('fault-limit')
  match.advanceTo(match.now + 1000)
  const resumed: any = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))
  for (const each of [match, resumed]) {
    for (let n = 0; n < 9; n++) expect(each.submit('heron', 'stall.fill', {}).code).toBe('fault') // by its settling
    expect(each.view('otter').phases.now.phase).toBe('live')
    each.advanceTo(each.now + 100)
    expect(each.view('otter').verdict.end).toMatchObject({ kind: 'none', reason: 'void' })
    expect(each.submit('otter', 'roster.leave', {})).toEqual({ ok: true })
  }
  expect(resumed.hash()).toBe(match.hash())
})
