import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { auditSight } from 'zinc-referee/testing'

const SEED = 'fair-4'
/** The secrets that a mode is about: an audit that never varied them would have nothing to say. */
const secretsOf: { readonly [mode: string]: readonly string[] } = {
  'reed-regatta': ['raft.hold.cargo'],
  'stepping-stones': ['stones.lilies.of'],
  'kettle-watch': ['kettle.paws.heat'],
  'pike-pond': ['areas.spots.x', 'pond.fish.shoal', 'areas.hints.towards'],
  'bell-tide': ['areas.spots.x', 'vitals.body.health', 'roles.seats.role', 'tide.pockets.stones'],
  'ebb-post': ['letters.cards.face', 'notebook.notes.note'],
  'spoiled-brew': [
    'roles.seats.role',
    'brewery.barrels.smell',
    'brewery.walkers.carries',
    'opening.votes.for',
  ],
  'lantern-market': ['wicks.cards.face', 'wishes.cards.face', 'guild-marks.marks.mark'],
  'mussel-dip': ['dip.mussels.kind', 'dip.lists.wishes'],
}

test.each(Object.entries(modes))(
  'no leak in %s: nobody can tell what it may not see, but for what is disclosed on purpose',
  (name, { rulebook, demo }) => {
    const count = Math.max(4, rulebook.plan.seatLimits.min)
    const { leaks, faults, compared, secrets } = auditSight(rulebook, {
      seed: SEED,
      seats: (demo.seats ?? []).slice(0, count).map(({ id }) => id),
      crowd: () => demo.crowd?.(SEED) ?? { every: 1000, beat() {} },
      with: rulebook.optional,
      until: 5 * 60_000,
      checks: 4,
      comparisons: 240,
    })
    expect([leaks, faults]).toEqual([[], []])
    expect(compared).toBeGreaterThan(10)
    for (const secret of ['draws', ...(secretsOf[name] ?? [])])
      expect(secrets[secret]?.varied, secret).toBeGreaterThan(0)
  },
)
