import { modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { beginAnyMatch, type CellDescription, type RuleDescription } from 'zinc-referee'

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
