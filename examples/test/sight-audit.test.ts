import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { auditSight } from 'zinc-referee/testing'

test.each(Object.entries(modes))(
  'no leak in %s: nobody can tell what it may not see, but for what is told on purpose',
  (_, mode) => {
    const { rulebook, demo } = mode
    const count = Math.max(4, rulebook.plan.room.min)
    const { leaks, compared } = auditSight(rulebook, {
      seats: (demo.seats ?? []).slice(0, count).map(({ id }) => id),
      crowd: () => demo.crowd?.('fair-1') ?? { every: 1000, beat() {} },
      with: rulebook.optional,
      until: 5 * 60_000,
      checks: 5,
      ...(demo.discloses && { discloses: demo.discloses }),
    })
    expect(leaks).toEqual([])
    expect(compared).toBeGreaterThan(10)
  },
)
