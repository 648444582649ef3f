import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  type Audience,
  anyOf,
  defineRule,
  everyone,
  except,
  flag,
  int,
  maybe,
  nobody,
  only,
  owner,
  refuse,
  rowOf,
  seatRef,
  table,
  text,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { inPhase } from 'zinc-referee/rules'
import { begin } from '../fixtures/begin-with.ts'
import { fact } from '../fixtures/inputs.ts'

const SEATS = ['otter', 'heron', 'vole']

/** Shells on a table: under its lid a shell is seen by whoever holds it, and some are shown to a friend or kept from one. */
const shells = defineRule({
  name: 'shells',
  state: {
    pile: table({
      place: int(0).seenBy(everyone),
      face: int(0),
      mine: int(0).seenBy(owner),
      secret: int(0),
      holder: maybe(seatRef()),
      friend: maybe(seatRef()),
      lid: flag(true),
      whole: flag(false),
    })
      .ownedBy('holder')
      .seenWhen({
        place: (row) => (row.whole ? nobody : everyone),
        face: (row): Audience =>
          row.lid
            ? anyOf(only(row.holder), only(row.friend))
            : row.friend === undefined
              ? everyone
              : except(everyone, row.friend),
      }),
  },
  actions: {
    tap: {
      when: inPhase('lobby'),
      input: { shell: rowOf('pile') },
      decide: (match, _seat, { shell }) => refuse('tapped', { face: match.own.pile.get(shell)?.face }),
    },
  },
  directives: {
    add: fact(
      { face: int(), holder: maybe(seatRef()), whole: flag(false) },
      (match, { face, holder, whole }) => {
        match.own.pile.add({ face, mine: face, secret: face, holder, whole })
      },
    ),
    change: fact(
      { n: int(), what: text(), to: maybe(seatRef()), value: int(0) },
      (match, { n, what, to, value }) => {
        const row = match.own.pile.all()[n]
        if (row === undefined) return refuse('nothing-there')
        if (what === 'lid') row.lid = !row.lid
        if (what === 'whole') row.whole = !row.whole
        if (what === 'holder') row.holder = to
        if (what === 'friend') row.friend = to
        if (what === 'face') {
          row.face = value
          row.mine = value
          row.secret = value
        }
        if (what === 'place') row.place = value
        if (what === 'remove') match.own.pile.remove(row.id)
        if (what === 'back') {
          const { lid } = row
          row.lid = !lid
          row.lid = lid
        }
        if (what === 'fail') {
          row.lid = !row.lid
          row.holder = to
          match.own.pile.add({ face: 1 })
          throw new Error('fell over')
        }
        return
      },
    ),
  },
})

const open = () => {
  const match = begin(shells)
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  return match
}
const seat = fc.option(fc.constantFrom(...SEATS), { nil: null })
const deed = fc.oneof(
  fc.record({
    what: fc.constant('add'),
    face: fc.integer({ min: 1000, max: 9999 }),
    to: seat,
    n: fc.nat(5),
    whole: fc.boolean(),
    flush: fc.boolean(),
  }),
  fc.record({
    what: fc.constantFrom('lid', 'whole', 'holder', 'friend', 'face', 'place', 'remove', 'back', 'fail'),
    face: fc.integer({ min: 1000, max: 9999 }),
    to: seat,
    n: fc.nat(5),
    whole: fc.constant(false),
    flush: fc.boolean(),
  }),
)
const act = (match: any, { what, face, to, n, whole }: any) =>
  what === 'add'
    ? match.direct('shells.add', { face, holder: to, whole })
    : match.direct('shells.change', { n, what, to, value: what === 'place' ? n : face })

test('what a viewer may not see changes no byte that it is sent: faces that only others see, or nobody', () => {
  const seen = (deeds: any[], salt: number, viewer: string): string => {
    const match = open()
    let sent = match.addViewer(viewer).view
    const hidden = (n: number): boolean =>
      match.state.shells.pile.all()[n]?.holder !== viewer &&
      match.state.shells.pile.all()[n]?.friend !== viewer
    for (const each of deeds) {
      const secret = each.what === 'add' ? each.to !== viewer : each.what === 'face' && hidden(each.n)
      act(match, secret ? { ...each, face: each.face + salt } : each)
      if (each.flush) sent += JSON.stringify(match.flush())
    }
    return sent + JSON.stringify(match.flush()) + JSON.stringify(match.view(viewer))
  }
  // Only what keeps lids on and gives no hidden shell to the viewer: else it may come to see what was varied.
  const quiet = deed.filter(
    ({ what, to }) =>
      what === 'add' ||
      what === 'place' ||
      what === 'face' ||
      what === 'whole' ||
      what === 'remove' ||
      ((what === 'holder' || what === 'friend') && to !== 'otter'),
  )
  fc.assert(
    fc.property(fc.array(quiet, { maxLength: 30 }), (deeds) => {
      expect(seen(deeds, 90_000, 'otter')).toBe(seen(deeds, 0, 'otter'))
    }),
    { numRuns: 150 },
  )
})

test('who loses sight of a row knows it by another id when it sees it again; who keeps sight is sent nothing', () => {
  const match = open()
  const ids = (viewer: string) => Object.keys(match.view(viewer).shells.pile)
  const change = (what: 'friend' | 'holder', to: string) => match.direct('shells.change', { n: 0, what, to })
  match.direct('shells.add', { face: 7, holder: 'otter', whole: true })
  const [first] = ids('otter')
  change('friend', 'heron')
  expect([ids('otter'), ids('heron')]).toEqual([[first], [first]])
  change('holder', 'vole')
  const [second] = ids('vole')
  // Vole could else learn from Otter what Otter knew of it.
  expect([ids('otter'), ids('heron'), second === first]).toEqual([[], [first], false])
  change('friend', 'otter')
  expect([ids('otter'), ids('heron'), ids('vole')]).toEqual([
    [expect.not.stringMatching(`^(${first}|${second})$`)],
    [],
    [second],
  ])
})

test('an input resolves a row only where the asker sees it: a guessed id is answered as one that does not exist', () => {
  const match = open()
  match.direct('shells.add', { face: 7, holder: 'otter', whole: true })
  const { id } = match.state.shells.pile.all()[0]
  expect(match.submit('otter', 'shells.tap', { shell: id })).toEqual({
    ok: false,
    code: 'tapped',
    details: { face: 7 },
  })
  const guessed = match.submit('heron', 'shells.tap', { shell: id })
  expect({ ...guessed, details: undefined }).toEqual({
    ...match.submit('heron', 'shells.tap', { shell: 'zzzzzz' }),
    details: undefined,
  })
  expect(guessed.code).toBe('no-such-target')
})

test('a policy that writes is a fault, and nothing is kept', () => {
  const match = begin(
    defineRule({
      name: 'bad',
      state: {
        rows: table({ n: int(0) }).seenWhen({
          n: (row) => {
            Object.assign(row, { n: 5 })
            return everyone
          },
        }),
      },
      directives: {
        add: fact({}, (m) => {
          m.own.rows.add({})
        }),
      },
    }),
  )
  const before = match.hash()
  expect(match.direct('bad.add', {})).toMatchObject({ code: 'fault' })
  expect(match.hash()).toBe(before)
})

const manyWays = (ways: number) => {
  const names = Array.from({ length: ways }, (_, n) => `c${n}`)
  return defineRule({
    name: 'many',
    state: {
      rows: table({ mask: int(), ...Object.fromEntries(names.map((name) => [name, int(7)])) }).seenWhen(
        Object.fromEntries(
          names.map((name, n) => [name, (row: any) => (row.mask & (1 << n) ? only('otter') : only('heron'))]),
        ) as any,
      ),
    },
    directives: {
      set: fact({ mask: int() }, (match, { mask }) => {
        const [row] = match.own.rows.all()
        if (row === undefined) match.own.rows.add({ mask })
        else row.mask = mask
      }),
    },
  } as any)
}

test('cells of one row may be seen in as many ways as fit, each right for each viewer; more is an error', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(2 ** 26 - 1), { maxLength: 6 }), (masks) => {
      const match = begin(manyWays(26) as never)
      for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
      const copies = new Map(SEATS.map((seat) => [seat, JSON.parse(match.addViewer(seat).view)]))
      match.flush()
      for (const mask of masks) {
        match.direct('many.set', { mask })
        for (const { viewer, patch } of match.flush())
          copies.set(viewer, applyPatch(copies.get(viewer), JSON.parse(patch)))
        for (const [viewer, copy] of copies) expect(copy).toEqual(match.view(viewer))
      }
    }),
    { numRuns: 60 },
  )
  expect(() => begin(manyWays(27) as never)).toThrow(/more than 26 different ways/)
})
