import { expect, test } from 'vitest'
import { auditPart, joinAudits } from 'zinc-referee/testing'
import { clean } from '../fixtures/clean-stalls.ts'
import { leaks } from '../fixtures/planted-leaks.ts'
import { auditOf, crowd, firstLeaks, SEATS, type Stall, stallWith } from '../fixtures/shell-stall.ts'

test.each(leaks)('found: $name', (stall) => {
  expect(firstLeaks(stall)).not.toEqual([])
})

test.each(clean)('no false alarm: $name', (stall) => {
  const { leaks: found, secrets, faults } = auditOf(stall, { comparisons: 160 })
  expect([found, faults]).toEqual([[], []])
  expect(secrets['stall.shells.face']?.varied).toBeGreaterThan(10)
  expect(secrets['stall.shells.face']?.steps).toBeGreaterThanOrEqual(10)
})

test('an audit finds the same in any number of parts', () => {
  const asked = { seats: SEATS, crowd, until: 20_000, checks: 8 }
  const book = stallWith(leaks[0] as Stall)
  const whole = joinAudits([auditPart(book, asked)])
  const parts = [0, 1, 2].map((part) => auditPart(book, asked, { part, of: 3 }))
  expect(joinAudits(JSON.parse(JSON.stringify(parts)))).toEqual(JSON.parse(JSON.stringify(whole)))
  expect(whole.leaks.length).toBeGreaterThan(0)
})
