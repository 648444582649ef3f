import { expect, test } from 'vitest'
import { defineRule, int, list, maybe, rowOf, single, table, text } from 'zinc-referee'
import { beginWith } from '../fixtures/begin-with.ts'

const harbour = defineRule({
  name: 'harbour',
  state: {
    berths: table({ boat: rowOf('boats') }),
    boats: table({ name: text() }),
    ropes: table({ boat: rowOf('boats').whenGone('cascade'), length: int(1) }),
    crews: table({ boat: maybe(rowOf('boats')), size: int() }).indexedBy('boat'),
    quay: single({ flagship: maybe(rowOf('boats')), fleet: list(rowOf('boats'), []) }),
  },
  directives: {
    launch: {
      input: { name: text() },
      handle(match, { name }) {
        const boat = match.own.boats.add({ name })
        match.own.ropes.add({ boat: boat.id })
        match.own.quay.flagship = boat.id
        match.own.quay.fleet = [...match.own.quay.fleet, boat.id]
      },
    },
    moor: {
      input: { name: text() },
      handle(match, { name }) {
        const [boat] = match.own.boats.where({ name })
        if (boat !== undefined) match.own.berths.add({ boat: boat.id })
      },
    },
    sink: {
      input: { name: text() },
      handle(match, { name }) {
        for (const { id } of match.own.boats.where({ name })) match.own.boats.remove(id)
      },
    },
    man: {
      input: { name: text(''), size: int() },
      handle(match, { name, size }) {
        match.own.crews.add({ boat: match.own.boats.where({ name })[0]?.id, size })
      },
    },
    again: { input: {}, handle: (match) => match.beginSpan('bout') },
  },
})
const open = (generateCode = true) => {
  const match = beginWith({ generateCode }, harbour)
  for (const name of ['Reed', 'Silt']) match.direct('harbour.launch', { name })
  return match
}

test.each([
  ['made as text', true],
  ['of closures', false],
])(
  'when a row goes, cells that name it let go, rows go with it, and where it is forbidden nothing happens: code %s',
  (_how, generateCode) => {
    const match = open(generateCode)
    const { harbour: state } = match.state
    match.direct('harbour.sink', { name: 'Silt' })
    expect(state.quay.flagship).toBeUndefined()
    expect(state.quay.fleet).toEqual([state.boats.all()[0].id])
    expect(state.ropes.all()).toHaveLength(1)
    match.direct('harbour.moor', { name: 'Reed' })
    const before = match.hash()
    expect(match.direct('harbour.sink', { name: 'Reed' })).toMatchObject({ code: 'fault' })
    expect(match.faults[0].error.code).toBe('ZR_STATE_ROW_IN_USE')
    expect(match.hash()).toBe(before)
  },
)

test('rows that name one another are cleared together when a bout begins', () => {
  const match = open()
  match.direct('harbour.moor', { name: 'Reed' })
  expect(match.direct('harbour.again', {})).toEqual({ ok: true })
  const { boats, berths, ropes, quay } = match.state.harbour
  expect([boats.all(), berths.all(), ropes.all(), quay.fleet]).toEqual([[], [], [], []])
})

test('rows are found by an indexed cell that names a row, alone or with others, or that names none', () => {
  const match = open()
  for (const [name, size] of [
    ['Reed', 2],
    ['', 1],
    ['Reed', 3],
    ['Silt', 4],
  ])
    match.direct('harbour.man', { name, size })
  const { boats, crews } = match.state.harbour
  const [reed] = boats.where({ name: 'Reed' })
  const sizes = (cells: object) => crews.where(cells).map(({ size }: { size: number }) => size)
  expect([sizes({ boat: reed.id }), sizes({ boat: reed.id, size: 3 }), sizes({ boat: undefined })]).toEqual([
    [2, 3],
    [3],
    [1],
  ])
  expect(sizes({ boat: 'no such boat' })).toEqual([])
})
