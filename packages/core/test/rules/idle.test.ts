import { expect, test } from 'vitest'
import { defineRulebook } from 'zinc-referee'
import { idle, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const book = defineRulebook({
  name: 'jetty',
  seats: { min: 2, max: 4 },
  rules: [idle({ after: 10_000, warnAfter: 6000 }), verdict({ when: [] }), moves],
})

function onJetty(settings: object = {}) {
  const { match, replay } = playMatch(book, ['otter', 'heron', 'vole'], { settings: { idle: settings } })
  const start = match.now
  for (const viewer of ['otter', 'heron', 'vole']) match.addViewer(viewer)
  match.flush()
  return {
    match,
    replay,
    at: (play: number) => match.advanceTo(start + play),
    wave: (seat: string) => match.submit(seat, 'moves.wave', {}),
    row: (seat: string) => match.view('server').roster.seats[seat],
    warned: () =>
      match
        .flush()
        .flatMap(({ viewer, notices }) =>
          notices.flatMap(({ name }) => (name === 'idle.warned' ? viewer : [])),
        ),
  }
}

test.each([
  ['absent', { presence: 'absent', sidelined: false, bot: false }],
  ['sideline', { presence: 'here', sidelined: true, bot: false }],
  ['bot', { presence: 'here', sidelined: false, bot: true }],
  ['leave', { presence: 'left', sidelined: false, bot: false }],
] as const)('ID1, ID5: a seat without a sign of life: %s', (whenIdle, row) => {
  const jetty = onJetty({ whenIdle })
  jetty.at(9999)
  for (const seat of ['heron', 'vole']) jetty.wave(seat)
  expect(jetty.row('otter')).toMatchObject({ presence: 'here', sidelined: false, bot: false })
  jetty.at(10_000)
  expect(jetty.row('otter')).toMatchObject(row)
  expect(jetty.row('heron')).toMatchObject({ presence: 'here', sidelined: false, bot: false })
  expect(jetty.replay().differs).toBeUndefined()
})

test('ID2, ID3, ID4: the seat alone is warned once; what it does, or is seen to do, begins the time again; a refusal does not', () => {
  const { match, at, wave, warned, row } = onJetty()
  at(5999)
  expect([wave('heron'), match.report('idle.seen', { seat: 'vole' })]).toEqual([{ ok: true }, { ok: true }])
  at(6000)
  expect(warned()).toEqual(['otter'])
  expect(match.submit('otter', 'moves.aim', { at: 'heron', times: 9 }).ok).toBe(false)
  at(10_000)
  expect([row('otter')?.presence, warned()]).toEqual(['absent', []])
  at(11_999)
  expect([warned(), wave('heron').ok]).toEqual([['heron', 'vole'], true])
  at(15_999)
  expect([wave('vole'), row('heron')?.presence]).toEqual([
    { ok: false, code: 'absent', details: { seat: 'vole' } },
    'here',
  ])
})

test('ID6, ID7: no time runs in a pause; a seat that a bot plays for is its own again when it returns', () => {
  const { match, at, row, wave } = onJetty({ whenIdle: 'bot', warnAfter: null })
  at(4000)
  match.direct('phases.pause', {})
  match.advanceTo(match.now + 30_000)
  match.direct('phases.resume', {})
  match.advanceTo(match.now + 5999)
  expect(row('otter')?.bot).toBe(false)
  match.advanceTo(match.now + 1)
  expect(row('otter')).toMatchObject({ bot: true, covered: true })
  expect(match.submit('otter', 'roster.return', {})).toEqual({ ok: true })
  expect([row('otter')?.bot, wave('otter').ok]).toEqual([false, true])
})
