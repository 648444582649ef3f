import { Command } from 'commander'
import { beginAnyMatch, type RuleDescription } from 'zinc-referee'
import { exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { columns, print, printJson, strong } from '../print/output.ts'
import { seenText } from '../print/sight-words.ts'
import { exitWith, shared } from './options.ts'

/** zinc-referee sights */
export const verb: Command = new Command('sights')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .option('--markdown', 'a table in Markdown')
  .addOption(shared.json)
  .action(exitWith(sights))

/** One line of the table of who sees what. */
interface SightLine {
  readonly what: 'state' | 'notice' | 'timer' | 'options' | 'disclosure'
  readonly name: string
  /** The reason, for disclosures on purpose. */
  readonly seenBy: string
}

/** Prints who sees what of a rulebook: state, notices, timers, offered options, and what is disclosed on purpose. */
export async function sights(
  name: string | undefined,
  options: { readonly rulebook?: string; readonly json?: boolean; readonly markdown?: boolean },
): Promise<number> {
  const { rulebook } = await loadMode(name, options.rulebook)
  const match = beginAnyMatch(rulebook, { seed: 'sights', with: rulebook.optional })
  const lines = match.describe().rules.flatMap(linesOf)
  if (options.json) printJson(lines)
  else if (options.markdown)
    print(
      [
        '| what | name | seen by |',
        '| --- | --- | --- |',
        ...lines.map(({ what, name: named, seenBy }) => `| ${what} | \`${named}\` | ${seenBy} |`),
      ].join('\n'),
    )
  else
    print(
      `${strong(rulebook.name)}   who sees what`,
      columns(
        ['what', 'name', 'seen by'],
        lines.map(({ what, name: named, seenBy }) => [what, named, seenBy]),
      ),
    )
  return exit.done
}

const linesOf = ({ name, state, events, timers, actions, discloses = [] }: RuleDescription): SightLine[] => [
  ...Object.entries(state).flatMap(([part, { cells }]) =>
    Object.entries(cells).map(([cell, how]) => ({
      what: 'state' as const,
      name: `${name}.${part}.${cell}`,
      seenBy: seenText(how),
    })),
  ),
  ...Object.entries(events).flatMap(([event, { cells }]) =>
    Object.entries(cells)
      .filter(([, how]) => how.seenBy !== 'nobody')
      .map(([cell, how]) => ({
        what: 'notice' as const,
        name: `${name}.${event}.${cell}`,
        seenBy: seenText(how),
      })),
  ),
  ...timers.map(({ name: timer, seenBy = ['nobody'] }) => ({
    what: 'timer' as const,
    name: `${name}.${timer}`,
    seenBy: seenBy.join(', '),
  })),
  ...actions
    .filter(({ offered }) => offered)
    .map(({ name: action }) => ({ what: 'options' as const, name: action, seenBy: 'the seat itself' })),
  ...discloses.map(({ secret, by, to, why }) => ({
    what: 'disclosure' as const,
    name: secret,
    seenBy: `on purpose, by ${[by].flat().join(', ')}, to ${to}: ${why}`,
  })),
]
