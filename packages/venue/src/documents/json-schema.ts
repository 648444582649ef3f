import type {
  CellDescription,
  CellDescriptions,
  InputDescription,
  RulebookDescription,
  RuleDescription,
} from 'zinc-referee'

/** A JSON Schema (2020-12), as far as it is used here. */
export interface JsonSchema {
  readonly $ref?: string
  readonly description?: string
  readonly type?: string
  readonly const?: unknown
  readonly enum?: readonly unknown[]
  readonly anyOf?: readonly JsonSchema[]
  readonly items?: JsonSchema
  readonly properties?: { readonly [name: string]: JsonSchema }
  readonly required?: readonly string[]
  readonly additionalProperties?: JsonSchema | boolean
  readonly minimum?: number
  readonly maximum?: number
  readonly minItems?: number
  readonly maxItems?: number
}

/** Returns the schema of an object. Members that are not listed in `required` may be missing. */
export const objectOf = (
  properties: { readonly [name: string]: JsonSchema },
  required: readonly string[] = Object.keys(properties),
): JsonSchema => ({
  type: 'object',
  properties,
  ...(required.length > 0 && { required }),
  additionalProperties: false,
})
/** Returns the schema of an object whose members have names that only the match knows. */
export const mapOf = (each: JsonSchema): JsonSchema => ({ type: 'object', additionalProperties: each })
export const integer: JsonSchema = { type: 'integer' }
export const text: JsonSchema = { type: 'string' }
export const anything: JsonSchema = {}

const within = (least: number | undefined, most: number | undefined): JsonSchema => ({
  ...(least !== undefined && { minimum: least }),
  ...(most !== undefined && { maximum: most }),
})
const orNothing = (schema: JsonSchema): JsonSchema => ({ anyOf: [schema, { type: 'null' }] })

type Kinds = { readonly [K in CellDescription['kind']]: (cell: CellDescription) => JsonSchema }
const kinds: Kinds = {
  int: ({ least, most }) => ({ ...integer, ...within(least, most) }),
  num: ({ least, most }) => ({ type: 'number', ...within(least, most) }),
  amount: ({ least, most }) => ({ ...integer, ...within(least, most) }),
  text: () => text,
  flag: () => ({ type: 'boolean' }),
  choice: ({ values = [] }) => ({ enum: values }),
  time: ({ clock }) => ({
    ...orNothing(integer),
    description: `A moment on the ${clock ?? 'match'} clock, in ms; null for none.`,
  }),
  seat: () => ({ ...text, description: 'The id of a seat.' }),
  row: () => ({ ...text, description: 'The id of a row.' }),
  list: ({ of, least, most }) => ({
    type: 'array',
    items: cellSchema(of),
    ...(least !== undefined && { minItems: least }),
    ...(most !== undefined && { maxItems: most }),
  }),
  set: () => ({ ...mapOf({ const: true }), description: 'A set: what is in it is a member.' }),
  map: ({ of }) => mapOf(cellSchema(of)),
  maybe: ({ of }) => orNothing(cellSchema(of)),
  json: () => anything,
}

/** Returns the schema of a cell's value, as it is sent. */
export const cellSchema = (cell: CellDescription | undefined): JsonSchema =>
  cell === undefined ? anything : kinds[cell.kind](cell)

/** Returns the schema of an input. An optional cell may be left out. */
export function inputSchema({ cells }: InputDescription): JsonSchema {
  if (cells === undefined) return { description: 'Declared with a schema of its own.' }
  const required = Object.entries(cells).filter(([, cell]) => cell.required && cell.kind !== 'maybe')
  return objectOf(
    schemasOf(cells),
    required.map(([name]) => name),
  )
}

const schemasOf = (cells: CellDescriptions): { readonly [name: string]: JsonSchema } =>
  Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, cellSchema(cell)]))

/** What a viewer may be shown of some cells: what nobody sees is left out, and only what everyone sees is always there. */
export function shownSchema(
  cells: CellDescriptions,
  derived: { readonly [name: string]: string } = {},
): JsonSchema {
  const shown = Object.entries(cells).filter(([, { seenBy }]) => seenBy !== 'nobody')
  const sure = shown.filter(([, { seenBy, maskedFor }]) => seenBy === 'everyone' && maskedFor === undefined)
  return objectOf(
    {
      ...Object.fromEntries(shown.map(([name, cell]) => [name, cellSchema(cell)])),
      ...Object.fromEntries(Object.keys(derived).map((name) => [name, anything])),
    },
    sure.map(([name]) => name),
  )
}

const clock: JsonSchema = {
  ...objectOf({ at: { type: 'number' }, runs: { type: 'boolean' } }),
  description: 'If it runs, `at` is the match time at which it read zero. If not, it is its reading. In ms.',
}

/** Returns the schema of a view: what any viewer may be shown. A part that a viewer sees nothing of may be missing. */
export function viewSchema({ rules }: RulebookDescription): JsonSchema {
  const all = rules.map((rule) => [rule.name, ruleViewSchema(rule)] as const)
  const clocks = objectOf({ match: clock, phase: clock, play: clock, turn: clock })
  const seen = all.filter(([, { properties = {} }]) => Object.keys(properties).length > 0)
  return objectOf({ clocks, ...Object.fromEntries(seen) }, ['clocks'])
}

function ruleViewSchema({ state, timers, actions, name }: RuleDescription): JsonSchema {
  const parts = Object.entries(state).map(([part, { kind, cells, derived }]) => {
    const row = shownSchema(cells, derived)
    return [part, kind === 'single' ? row : mapOf(row)] as const
  })
  const seenTimers = timers.filter(({ seenBy = [] }) => seenBy.length > 0)
  const due = { type: 'number', description: 'By key, when it is due, on its clock, in ms.' }
  const offered = actions.filter(({ offered }) => offered)
  const inside = (full: string): string => full.slice(name.length + 1)
  return objectOf(
    {
      ...Object.fromEntries(
        parts.filter(([, { properties }]) => properties === undefined || Object.keys(properties).length > 0),
      ),
      ...(seenTimers.length > 0 && {
        timers: objectOf(Object.fromEntries(seenTimers.map((timer) => [timer.name, mapOf(due)])), []),
      }),
      ...(offered.length > 0 && {
        options: objectOf(
          Object.fromEntries(
            offered.map((action) => [inside(action.name), { type: 'array', items: inputSchema(action) }]),
          ),
          [],
        ),
      }),
      settings: mapOf(anything),
    },
    [],
  )
}
