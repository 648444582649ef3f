import { expect, test } from 'vitest'
import {
  beginMatch,
  choice,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  json,
  list,
  map,
  maybe,
  num,
  perSeat,
  resumeMatch,
  rowOf,
  set,
  table,
  text,
} from 'zinc-referee'
import { z } from 'zod'

const circle: Record<string, unknown> = {}
circle['self'] = circle

/** Writes whatever it is told into whatever cell. */
const store = defineRule({
  name: 'store',
  state: {
    shelf: perSeat({
      count: int(0).between(0, 9).seenBy(everyone),
      weight: num(0),
      label: text('').seenBy(everyone),
      kind: choice('salt', 'silk'),
      tags: set(text()),
      sums: map(int()),
      marks: list(int(), []).between(0, 3),
      note: json(z.object({ by: z.string() }).loose(), { by: '' }),
      class: flag(false),
      crate: maybe(rowOf('crates')),
    }),
    crates: table({ size: int() }),
  },
  directives: {
    write: {
      input: { cell: text() },
      handle(match, { cell }) {
        match.own.crates.add({ size: 1 })
        const shelf = match.own.shelf.of('otter') as any
        shelf.count = 5
        shelf[cell] = written[cell]
      },
    },
    insert: {
      input: {},
      handle(match) {
        match.own.crates.add({ size: 1, colour: 'red' } as any)
      },
    },
    leaveOut: { input: {}, handle: (match) => void match.own.crates.add({} as any) },
    inPlace: {
      input: {},
      handle(match) {
        ;(match.own.shelf.of('otter').tags as any).add('x')
      },
    },
    later: { input: {}, handle: (async () => undefined) as any },
  },
})
const books = [true, false].map((generateCode) =>
  defineRulebook({ name: 'store', seats: { min: 1, max: 2 }, rules: [store], generateCode }),
)
let written: Record<string, unknown> = {}
const open = (book: (typeof books)[number]) => {
  const match = beginMatch(book, { seed: 'fair-1' })
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  match.addViewer('otter')
  match.flush()
  return match as any
}

const values: [string, string, unknown, RegExp][] = [
  ['a number beyond its bounds', 'count', 10, /0 to 9, not 10/],
  ['no number', 'count', Number.NaN, /whole number, not NaN/],
  ['an endless number', 'weight', Number.POSITIVE_INFINITY, /finite/],
  ['half of a pair of units', 'label', 'x\ud83e', /surrogate/],
  ['a word that is not among them', 'kind', 'tin', /salt, silk/],
  ['a list that is too long', 'marks', [1, 2, 3, 4], /0 to 3, not 4/],
  ['no list', 'marks', new Set([1]), /must be a list/],
  ['a value of a map that does not fit', 'sums', new Map([['x', 1.5]]), /has under "x" a value/],
  ['a function in a list', 'marks', [() => 1], /item 0/],
  ['an array for a set', 'tags', ['x'], /must be a Set/],
  ['a key that every object has', 'sums', new Map([['__proto__', 1]]), /__proto__/],
  ['a circle', 'note', circle, /contains itself/],
  ['a function in JSON', 'note', { by: () => 1 }, /not function/],
  ['JSON that does not fit its schema', 'note', { by: 3 }, /schema/],
  ['a date in JSON', 'note', { by: 'x', at: new Map() }, /must be JSON/],
  ['a row of another match', 'crate', 'k7mss8', /no row/],
  ['a cell that is not there', 'colour', 'red', /Unknown cell/],
]
test.each(values)('%s is a fault that names it, and nothing is kept', (_what, cell, value, says) => {
  for (const book of books) {
    const match = open(book)
    const before = match.hash()
    written = { [cell]: value }
    expect(match.direct('store.write', { cell })).toMatchObject({ ok: false, code: 'fault' })
    expect(String(match.faults[0].error)).toMatch(says)
    expect(match.faults[0].error.code).toMatch(/^ZR_STATE_(BAD_VALUE|UNKNOWN_CELL)$/)
    expect(match.faults[0].handler).toBe('store directive write')
    expect(match.hash()).toBe(before)
    expect(match.flush()).toEqual([])
  }
})

test.each([
  ['insert', 'ZR_STATE_UNKNOWN_CELL'],
  ['leaveOut', 'ZR_STATE_BAD_VALUE'],
  ['inPlace', 'ZR_STATE_CLOSED_VALUE'],
  ['later', 'ZR_MATCH_ASYNC'],
])('store.%s is a fault with %s, and nothing is kept', (order, code) => {
  for (const book of books) {
    const match = open(book)
    const before = match.hash()
    expect(match.direct(`store.${order}`, {})).toMatchObject({ ok: false, code: 'fault' })
    expect(match.faults[0].error.code).toBe(code)
    expect(match.hash()).toBe(before)
  }
})

test('cells may be named by any word; a value that fits is read as it was written', () => {
  for (const book of books) {
    const match = open(book)
    written = { class: true, tags: new Set(['b', 'a']), note: { by: 'otter', x: [1] }, weight: -0 }
    for (const cell of Object.keys(written))
      expect(match.direct('store.write', { cell })).toEqual({ ok: true })
    const { class: klass, tags, note, weight } = match.state.store.shelf.of('otter')
    expect([klass, [...tags], note, Object.is(weight, 0)]).toEqual([
      true,
      ['a', 'b'],
      { by: 'otter', x: [1] },
      true,
    ])
    const restored: any = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))
    expect(restored.hash()).toBe(match.hash())
  }
})

test.each(['__proto__', 'constructor', 'prototype', '', 'x\ud800'])('no seat is called %j', (seat) => {
  const match = open(books[0] as any)
  expect(match.direct('roster.join', { seat, name: 'Eve' })).toMatchObject({ code: 'bad-input' })
})

test('an input with a circle or with a key that every object has is bad input, and is recorded', () => {
  const lines: string[] = []
  const match: any = beginMatch(books[0] as any, { seed: 'x', record: (line) => lines.push(line) })
  expect(match.direct('store.write', circle)).toMatchObject({ code: 'bad-input' })
  expect(match.direct('store.write', JSON.parse('{"cell":"a","__proto__":1}'))).toMatchObject({
    code: 'bad-input',
  })
  expect(lines).toHaveLength(3)
})

test('state cannot be read after the match was closed', () => {
  const match = open(books[0] as any)
  match.close()
  expect(() => match.state).toThrow(/after it was closed/)
})
