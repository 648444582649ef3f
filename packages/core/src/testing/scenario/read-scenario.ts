import * as z from 'zod/mini'
import { nearest, RefereeError } from '../../kit/index.ts'
import { timeFrom } from './time-from.ts'

type Cells = { readonly [cell: string]: unknown }
type ByName<T> = { readonly [name: string]: T }

/** One step: something that is done, what is expected after it, or both. */
export interface ScenarioStep {
  /** Time from the start of the steps at which it is done, such as '1:30'. */
  readonly at?: string | number | undefined
  /** Time from the step before, such as '3s'. Default: none. */
  readonly after?: string | number | undefined
  /** An action of the seat in `seat`. */
  readonly act?: string | undefined
  /** The seat that acts. */
  readonly seat?: string | undefined
  /** A fact that the game reports. */
  readonly report?: string | undefined
  /** A directive of the host. */
  readonly direct?: string | undefined
  /** The input of what is done. Default: {}. */
  readonly input?: Cells | undefined
  /** Inputs of a fact that is reported several times at once, in place of `input`. */
  readonly inputs?: readonly Cells[] | undefined
  /** The code that it is refused with; of several at once, a code or null for each. Default: it is accepted. */
  readonly refused?: string | readonly (string | null)[] | undefined
  /** By viewer, what its view has at a path, such as `vitals.body.heron.health`. */
  readonly shows?: ByName<Cells> | undefined
  /** By viewer, paths that its view does not have. */
  readonly hides?: ByName<readonly string[]> | undefined
  /** By viewer and table, rows of which there must be one with these cells. */
  readonly has?: ByName<ByName<readonly Cells[]>> | undefined
  /** By viewer, notices that it is sent in this step: names, or names with cells. */
  readonly notices?:
    | ByName<readonly (string | { readonly name: string; readonly cells: Cells })[]>
    | undefined
  /** By viewer, names of notices that it is not sent in this step. */
  readonly silent?: ByName<readonly string[]> | undefined
  /** By seat and action, all inputs that are options. */
  readonly options?: ByName<ByName<readonly Cells[]>> | undefined
  /** How the bout has ended: those cells of the verdict that are named. */
  readonly verdict?: Cells | undefined
}
/** A test of a mode as data: who plays, what is done when, and what is expected. The guide's page on testing has one. */
export interface Scenario {
  /** What it shows, in words. */
  readonly scenario: string
  /** The name of the rulebook. */
  readonly mode?: string | undefined
  /** The seats, by id. */
  readonly seats: readonly string[]
  /** The seed. Default: 'fair-1'. */
  readonly seed?: string | undefined
  /** Optional rules that it uses. Default: none. */
  readonly with?: readonly string[] | undefined
  /** Settings by rule. */
  readonly settings?: ByName<Cells> | undefined
  /** If true, it begins in the lobby. Default: at the first ms of live play. */
  readonly lobby?: boolean | undefined
  /** What is done and expected, in this order. */
  readonly steps: readonly ScenarioStep[]
}

const text = z.string('must be a text').check(z.minLength(1, 'must not be empty'))
const list = <T extends z.core.$ZodType>(of: T) => z.array(of, 'must be a list')
const byName = <T extends z.core.$ZodType>(of: T) => z.record(z.string(), of, 'must be an object')
const cells = byName(z.unknown())
const time = z.union([z.string(), z.int()], 'must be a time, such as 1:30 or 90s')
const notice = z.union(
  [text, z.strictObject({ name: text, cells })],
  'must be a name, or an object with name and cells',
)
const step = {
  at: z.optional(time),
  after: z.optional(time),
  act: z.optional(text),
  seat: z.optional(text),
  report: z.optional(text),
  direct: z.optional(text),
  input: z.optional(cells),
  inputs: z.optional(list(cells)),
  refused: z.optional(z.union([text, list(z.nullable(text))], 'must be a code, or a list of codes and null')),
  shows: z.optional(byName(cells)),
  hides: z.optional(byName(list(text))),
  has: z.optional(byName(byName(list(cells)))),
  notices: z.optional(byName(list(notice))),
  silent: z.optional(byName(list(text))),
  options: z.optional(byName(byName(list(cells)))),
  verdict: z.optional(cells),
}
const top = {
  scenario: text,
  mode: z.optional(text),
  seats: list(text).check(z.minLength(1, 'must name at least one seat')),
  seed: z.optional(text),
  with: z.optional(list(text)),
  settings: z.optional(byName(cells)),
  lobby: z.optional(z.boolean('must be true or false')),
  steps: list(z.strictObject(step, 'must be an object')).check(z.minLength(1, 'must have at least one step')),
}
const schema: z.ZodMiniType<Scenario> = z.strictObject(top, 'must be an object')

/** The JSON Schema (2020-12) of scenarios, for editors. */
export const scenarioSchema = (): object => z.toJSONSchema(schema, { io: 'input' })

const DOINGS = ['act', 'report', 'direct'] as const

/**
 * Returns a scenario, read from the data of a file. @throws ZR_SCENARIO_INVALID with the path of each problem, and the
 * nearest name for one that is not known
 */
export function readScenario(data: unknown): Scenario {
  const read = schema.safeParse(data)
  const issues = read.success ? wrongIn(read.data) : read.error.issues.map(issueText)
  if (issues.length > 0) throw new RefereeError('ZR_SCENARIO_INVALID', { issues })
  return (read as { readonly data: Scenario }).data // it has no issues
}

function issueText(issue: z.core.$ZodIssue): string {
  const where = pathText(issue.path)
  if (issue.code !== 'unrecognized_keys') return `${where}: ${issue.message}`
  const known = Object.keys(issue.path.length === 0 ? top : step)
  return issue.keys
    .map((key) => {
      const near = nearest(key, known)
      return `${where}: there is no '${key}'${near === undefined ? '' : ` (did you mean '${near}'?)`}`
    })
    .join('; ')
}

/** Steps as people count them, from 1. */
const pathText = (path: readonly PropertyKey[]): string =>
  path.map((part) => (typeof part === 'number' ? part + 1 : String(part))).join('.') || 'the scenario'

function wrongIn({ steps }: Scenario): string[] {
  return steps.flatMap((each, n) => {
    const where = `steps.${n + 1}`
    const done = DOINGS.filter((doing) => each[doing] !== undefined)
    const times = [each.at, each.after].filter((given) => given !== undefined)
    return [
      ...(done.length > 1 ? [`${where}: it does one thing, not ${done.join(' and ')}`] : []),
      ...(each.act !== undefined && each.seat === undefined ? [`${where}: an action needs its 'seat'`] : []),
      ...(done.length === 0 && each.refused !== undefined
        ? [`${where}: nothing is done that could be refused`]
        : []),
      ...(each.inputs !== undefined && (each.report === undefined || each.input !== undefined)
        ? [`${where}: only a fact has 'inputs', and then no 'input'`]
        : []),
      ...(times.length > 1 ? [`${where}: it has 'at' or 'after', not both`] : []),
      ...times.flatMap((given) =>
        timeFrom(given) === undefined
          ? [`${where}: '${given}' is not a time. Write 1:30, 90s or 1500ms`]
          : [],
      ),
    ]
  })
}
