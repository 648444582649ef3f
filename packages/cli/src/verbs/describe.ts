import { asyncApi, clientTypes, jsonSchemas } from '@zinc-referee/venue/documents'
import { Command } from 'commander'
import type {
  CellDescription,
  CellDescriptions,
  InputDescription,
  RulebookDescription,
  RuleDescription,
} from 'zinc-referee'
import { beginAnyMatch } from 'zinc-referee'
import { CommandError, exit } from '../errors.ts'
import { loadMode } from '../modes/load-mode.ts'
import { columns, dim, print, printJson, strong } from '../print/output.ts'
import { seenText } from '../print/sight-words.ts'
import { exitWith, shared } from './options.ts'

/** Documents of what goes over the wire, by the option that asks for them. */
const documents: { readonly [option: string]: (plan: RulebookDescription) => string } = {
  asyncapi: (plan) => JSON.stringify(asyncApi(plan), undefined, 2),
  jsonSchema: (plan) => JSON.stringify(jsonSchemas(plan), undefined, 2),
  typescript: clientTypes,
}
interface DescribeOptions {
  readonly rulebook?: string
  readonly json?: boolean
  readonly asyncapi?: boolean
  readonly jsonSchema?: boolean
  readonly typescript?: boolean
}

/** zinc-referee describe */
export const verb: Command = new Command('describe')
  .argument('[mode]', 'an example', 'reed-regatta')
  .addOption(shared.rulebook)
  .addOption(shared.json)
  .option('--asyncapi', 'print what goes over the wire, as AsyncAPI 3')
  .option('--json-schema', 'print the messages and the view, as JSON Schema 2020-12')
  .option('--typescript', 'print types for a client that does not have the rulebook')
  .action(exitWith(describe))

/** Prints the plan of a rulebook: its rules in order, what each offers, who handles it, and who sees what. */
export async function describe(name: string | undefined, options: DescribeOptions): Promise<number> {
  const mode = await loadMode(name, options.rulebook)
  const plan = beginAnyMatch(mode.rulebook, { seed: 'describe' }).describe()
  const asked = Object.entries(documents).filter(([name]) => options[name as keyof DescribeOptions])
  if (asked.length > 1 || (asked.length === 1 && options.json))
    throw new CommandError('Ask for one of --json, --asyncapi, --json-schema and --typescript.')
  const [document] = asked
  if (document !== undefined) print(document[1](plan))
  else if (options.json) printJson({ ...plan, digest: mode.rulebook.plan.digest })
  else {
    print(
      `${strong(plan.name)}   ${plan.seats.min} to ${plan.seats.max} seats   ${plan.rules.length} rules   plan ${mode.rulebook.plan.digest.slice(0, 8)}`,
      ...plan.rules.map(ruleText),
      columns(
        ['cell', 'kind', 'seen by', 'set back'],
        plan.rules.flatMap((rule) =>
          Object.entries(rule.state).flatMap(([part, { cells, span }]) =>
            cellRows(`${rule.name}.${part}`, cells, span),
          ),
        ),
      ),
      ...(plan.unused.length === 0 ? [] : [`${dim('unused')}   ${plan.unused.join('   ')}`]),
    )
  }
  return exit.done
}

function ruleText({
  name,
  needs,
  actions,
  facts,
  directives,
  timers,
  groups,
  settles,
  events,
  drafts,
}: RuleDescription): string {
  const own = (input: InputDescription): string => input.name.slice(name.length + 1) + inputText(input)
  const rows: [string, string][] = [
    ['actions', actions.map(own).join('   ')],
    ['facts', facts.map(own).join('   ')],
    ['directives', directives.map(own).join('   ')],
    [
      'drafts',
      Object.entries(drafts)
        .map(([draft, { amendedBy }]) => draft + by('amended by', amendedBy))
        .join('   '),
    ],
    [
      'events',
      Object.entries(events)
        .map(([event, { handledBy }]) => event + by('handled by', handledBy))
        .join('   '),
    ],
    [
      'timers',
      timers
        .map(
          ({ name: timer, clock, band, seenBy: whom = [] }) =>
            `${timer} (${[clock, band, ...(whom.length > 0 ? [`seen by ${whom.join(', ')}`] : [])].join(', ')})`,
        )
        .join('   '),
    ],
    ['groups', (groups ?? []).join('   ')],
    ['settles', settles === undefined ? '' : `in ${settles.tier}, woken by ${settles.wokenBy.join(', ')}`],
  ]
  const shown = rows
    .filter(([, value]) => value !== '')
    .map(([what, value]) => `  ${dim(what.padEnd(10))}  ${value}`)
  return [`${strong(name)}${needs.length === 0 ? '' : `   needs ${needs.join(', ')}`}`, ...shown].join('\n')
}

const inputText = ({ cells = {}, offers, offered }: InputDescription): string => {
  const names = Object.entries(cells).map(([cell, { required }]) => (required ? cell : `${cell}?`))
  return `${names.length === 0 ? '' : ` { ${names.join(', ')} }`}${offered ? ', offered' : offers ? ', with options' : ''}`
}

const by = (how: string, whom: readonly string[]): string =>
  whom.length === 0 ? '' : ` (${how} ${whom.join(', ')})`

const cellRows = (part: string, cells: CellDescriptions, span: string): string[][] =>
  Object.entries(cells).map(([cell, how]) => [
    `${part}.${cell}`,
    kindText(how),
    seenText(how),
    span === 'match' ? 'never' : `each ${span}`,
  ])

function kindText({ kind, of, values, least, most, clock }: CellDescription): string {
  const inside = of === undefined ? '' : ` of ${kindText(of)}`
  const bounds = least === undefined && most === undefined ? '' : ` ${least ?? '…'} to ${most ?? '…'}`
  return (
    kind +
    (clock === undefined ? '' : ` on ${clock}`) +
    inside +
    (values && values.length > 0 ? ` ${values.join(' | ')}` : '') +
    bounds
  )
}
