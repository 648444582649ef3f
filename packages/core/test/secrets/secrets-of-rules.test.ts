import { expect, test } from 'vitest'
import { beginMatch } from 'zinc-referee'
import { gridOf, holds, idle, reactions, turns, zones } from 'zinc-referee/rules'
import { auditSight, randomCrowd } from 'zinc-referee/testing'
import { bookOf, cases, SEATS } from '../fixtures/secret-keepers.ts'

const varied = new Set<string>()

test.each(Object.entries(cases))('what %s keeps secret shows in nothing that leaves', (_, each) => {
  const { rules, secrets, also = [] } = each
  const audit = auditSight(bookOf(rules), {
    seats: SEATS,
    crowd: () => randomCrowd('fair-2'),
    until: 60_000,
    checks: 12,
    comparisons: 200,
    also,
  })
  expect([audit.leaks, audit.faults]).toEqual([[], []])
  for (const [secret, { varied: times }] of Object.entries(audit.secrets)) if (times > 0) varied.add(secret)
  expect([...varied]).toEqual(expect.arrayContaining([...secrets]))
})

test('no built-in rule keeps a secret that is varied nowhere above', () => {
  const others = [
    gridOf('board', { width: 3, height: 3 }),
    holds,
    idle,
    reactions,
    turns,
    zones({ names: ['mill'] }),
  ]
  const rules = [...Object.values(cases).flatMap((each) => each.rules), ...others] as any[]
  const once = new Map(rules.map((rule) => [rule.name, rule]))
  once.delete('drive')
  const described: any = beginMatch(bookOf([...once.values()]), { seed: 'fair-1' }).describe()
  const secrets = described.rules.flatMap(({ name, state, varies = {} }: any) =>
    Object.entries(state).flatMap(([part, { cells }]: any) =>
      Object.entries(cells).flatMap(([cell, { kind, of, seenBy }]: any) =>
        ['everyone', 'nobody'].includes(seenBy) ||
        [kind, of?.kind].includes('row') ||
        varies[part]?.includes(cell) === false
          ? []
          : `${name}.${part}.${cell}`,
      ),
    ),
  )
  expect(secrets.filter((secret: string) => !varied.has(secret))).toEqual([])
})
