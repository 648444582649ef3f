import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, type CellDescription, type RuleDescription } from 'zinc-referee'
import * as builtIn from 'zinc-referee/rules'
import { z } from 'zod'

const who = ({ seenBy, by = [], maskedFor }: CellDescription): string =>
  (by.length > 0 ? by.join(', ') : seenBy) + (maskedFor === undefined ? '' : `, masked for ${maskedFor}`)

/** A cell, a notice or a timer with whoever sees it. */
const rows = ({ name, state, events, timers }: RuleDescription): string[] => [
  ...Object.entries(state).flatMap(([part, { cells, derived = {} }]) => [
    ...Object.entries(cells).map(([cell, how]) => `| \`${name}.${part}.${cell}\` | ${who(how)} |`),
    ...Object.entries(derived).map(([cell, to]) => `| \`${name}.${part}.${cell}\` (derived) | ${to} |`),
  ]),
  ...Object.entries(events).flatMap(([event, { cells }]) =>
    Object.entries(cells).map(([cell, how]) => `| notice \`${name}.${event}.${cell}\` | ${who(how)} |`),
  ),
  ...timers.map(
    ({ name: timer, seenBy = ['nobody'] }) => `| timer \`${name}.${timer}\` | ${seenBy.join(', ')} |`,
  ),
]

test('who sees what of each mode is as it was reviewed; npx vitest run -u writes what has changed', async () => {
  const pages = Object.values(modes).map(({ title, rulebook }) => {
    const match = beginAnyMatch(rulebook, { seed: 'fair-1', with: rulebook.optional })
    return [
      `## ${title}`,
      '',
      '| what | seen by |',
      '| --- | --- |',
      ...match.describe().rules.flatMap(rows),
      '',
    ].join('\n')
  })
  const page = `# Who sees what

Every cell, notice and timer of the fair's modes, with all their optional rules. A test holds this page against the rulebooks, so that a sight that becomes wider is seen in a change's diff. \`some\` is a function of the row: see the rule.

${pages.join('\n')}`
  await expect(page).toMatchFileSnapshot('../../docs/who-sees-what.md')
})

const line = (what: string, ...values: readonly unknown[]): string[] =>
  values.some((value) => value !== undefined && JSON.stringify(value) !== '{}')
    ? [`${what} ${values.map((value) => JSON.stringify(value)).join(' ')}`]
    : []

test.each(Object.entries(modes))(
  'what %s sets of other rules, declares of its own and begins with is as it was reviewed',
  async (mode, { rulebook }) => {
    const match = beginAnyMatch(rulebook, { seed: 'fair-1', with: rulebook.optional })
    const seats = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike'].slice(0, rulebook.plan.seatLimits.max)
    for (const seat of seats) match.direct('roster.join', { seat, name: seat })
    match.direct('phases.start', {})
    match.advanceTo(10_000)
    const { parts } = match.snapshot()
    const described = new Map(match.describe().rules.map((rule) => [rule.name, rule]))
    const lines = rulebook
      .planWith(rulebook.optional)
      .rules.flatMap(({ name, given, config, definition }) => {
        const { name: _, needs, state = {}, ...rest } = described.get(name) ?? {}
        const own = Object.entries(rest).flatMap(([kind, each]) =>
          (Array.isArray(each) ? each : Object.entries(each)).map((one) => line(`  ${kind}`, one)),
        )
        const first = Object.keys(state).flatMap((part) =>
          line(`  ${part}`, parts[`${name}.${part}`]?.rows[0]?.cells),
        )
        const settings = definition.settings && z.toJSONSchema(definition.settings as z.ZodType)
        return [
          ...line(name, given, config),
          ...(name in builtIn ? [] : [...own.flat(), ...first, ...line('  settings', settings)]),
        ]
      })
    await expect(`${lines.join('\n')}\n`).toMatchFileSnapshot(`declared/${mode}.txt`)
  },
)
