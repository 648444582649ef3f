import { steppingStones } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginMatch, defineRule, defineRulebook, seatRef } from 'zinc-referee'
import { catalogueOf, noticeIn, refusalIn } from 'zinc-referee/replica'
import { playMatch } from 'zinc-referee/testing'
import { german } from '../page/src/languages/german.ts'

const { match } = playMatch(steppingStones, ['otter', 'heron'])
const english = catalogueOf(match.describe())

test('German has each text that Stepping Stones can give, with the same cells, and no other', () => {
  const places = (text = '') => (text.match(/\{\w+\}/g) ?? []).sort()
  for (const part of ['refusals', 'notices'] as const) {
    expect(Object.keys(german[part]).sort()).toEqual(Object.keys(english[part]).sort())
    for (const [key, text] of Object.entries(english[part]))
      expect(places(german[part][key])).toEqual(places(text))
  }
})

test('a refusal and a notice read alike in both languages', () => {
  match.addViewer('spectator')
  match.flush()
  const ruling = match.submit('heron', 'stones.lay', { x: 1, y: 0 })
  const refusal = ruling.ok ? { code: '' } : ruling
  expect([refusalIn(english, refusal), refusalIn(german, refusal)]).toEqual([
    "It is another seat's turn. Wait for yours.",
    'Jemand anders ist am Zug. Warte auf deinen.',
  ])
  match.submit('otter', 'stones.lay', { x: 1, y: 0 })
  const [notice = { name: '', cells: {} }] = match
    .flush()
    .flatMap(({ notices }) => notices.filter(({ name }) => name === 'stones.laid'))
  const show = (value: unknown) => (value === 'otter' ? 'Otter' : String(value))
  expect([noticeIn(english, notice, show), noticeIn(german, notice, show)]).toEqual([
    'Otter lays a stone on b1.',
    'Otter legt einen Stein auf b1.',
  ])
  expect(noticeIn(english, { name: 'turns.began', cells: {} })).toBeUndefined()
})

test('a text that names a cell which its event does not have is refused where the rulebook is defined', () => {
  const bell = defineRule({
    name: 'bell',
    events: { rung: { seat: seatRef() } },
    notices: { rung: { says: '{who} rings.' } },
  })
  const begin = () =>
    beginMatch(defineRulebook({ name: 'bell', seats: { min: 1, max: 2 }, rules: [bell] }), { seed: 'fair-1' })
  expect(begin).toThrow(/Notices of 'bell.rung' name the cell 'who'/)
})
