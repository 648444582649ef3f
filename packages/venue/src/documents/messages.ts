import type { InputDescription, RulebookDescription } from 'zinc-referee'
import { z } from 'zod'
import { roles } from '../roles.ts'
import { type Method, paramsSchemas, rpcErrors } from '../wire/protocol.ts'
import {
  anything,
  inputSchema,
  integer,
  type JsonSchema,
  mapOf,
  objectOf,
  shownSchema,
  text,
  viewSchema,
} from './json-schema.ts'

/** A method of the venue, or a message that it sends by itself. */
export interface MessageSchema {
  readonly says: string
  readonly params: JsonSchema
  /** Nothing for what is not answered. */
  readonly result?: JsonSchema
}

const refOf = (name: string): JsonSchema => ({ $ref: `#/$defs/${name}` })
const n: JsonSchema = { ...integer, description: 'Counts the messages to this viewer, from 1.' }
const at: JsonSchema = { type: 'number', description: 'Match time, in ms.' }
const allowed = objectOf({ ok: { const: true } })
const refused = objectOf({ ok: { const: false }, code: text, says: text, details: mapOf(anything) }, [
  'ok',
  'code',
  'says',
])
const operation: JsonSchema = {
  description: 'An operation of JSON Patch (RFC 6902).',
  anyOf: [
    objectOf({ op: { enum: ['add', 'replace'] }, path: text, value: anything }),
    objectOf({ op: { const: 'remove' }, path: text }),
  ],
}

/** Schemas that others refer to: the view, notices, rulings, and the inputs of this rulebook. */
export function definitionsOf(book: RulebookDescription): { readonly [name: string]: JsonSchema } {
  const inputs = (kind: 'actions' | 'facts' | 'directives'): JsonSchema => {
    const all = book.rules.flatMap((rule) => rule[kind])
    return all.length === 0
      ? { ...objectOf({}), description: 'This rulebook has none.' }
      : { anyOf: all.map((each) => named(kind, each)) }
  }
  const notices = book.rules.flatMap(({ name, events }) =>
    Object.entries(events).flatMap(([event, { cells, says }]) => {
      const shown = shownSchema(cells)
      if (Object.keys(shown.properties ?? {}).length === 0) return []
      const { required: _, ...loose } = shown
      const notice = objectOf({ n, name: { const: `${name}.${event}` }, at, until: at, cells: loose }, [
        'name',
        'at',
        'until',
        'cells',
      ])
      return [says === undefined ? notice : { ...notice, description: says }]
    }),
  )
  return {
    View: viewSchema(book),
    Notice: notices.length === 0 ? anything : { anyOf: notices },
    Ruling: { anyOf: [allowed, refused] },
    Operation: operation,
    Act: inputs('actions'),
    Report: inputs('facts'),
    Direct: inputs('directives'),
  }
}

const LABELS = { actions: 'action', facts: 'fact', directives: 'directive' } as const

function named(kind: keyof typeof LABELS, input: InputDescription): JsonSchema {
  const name = LABELS[kind]
  return objectOf({ [name]: { const: input.name }, input: inputSchema(input) }, [name])
}

const others: JsonSchema = {
  type: 'array',
  items: text,
  description: 'The sockets of the other venues of a circuit, by which to come back if this one is lost.',
}

const joined: JsonSchema = objectOf(
  {
    match: { ...text, description: 'The id of the match.' },
    mode: { ...text, description: 'The name of its rulebook.' },
    epoch: { ...text, description: 'Names the series of messages that `n` counts.' },
    n,
    seat: { anyOf: [text, { type: 'null' }], description: 'Null for those who watch.' },
    role: { enum: roles, description: 'What this client may do.' },
    player: { ...text, description: 'The secret by which a player gets the same seat again.' },
    others,
    at,
    notices: { type: 'array', items: refOf('Notice'), description: 'What is still to be shown.' },
    view: { ...refOf('View'), description: 'The whole view.' },
    missed: {
      type: 'array',
      items: anything,
      description:
        'In place of `view`, for a client that came back with `from`: the messages behind that number.',
    },
  },
  ['match', 'mode', 'epoch', 'n', 'seat', 'role', 'at'],
)

const SAYS: { readonly [M in Method]: string } = {
  join: 'Enter a match: the one named, or one with room. Nothing else is answered before.',
  act: 'Ask for an action. The ruling says whether it was done. The same id again is done once and answered twice.',
  options: 'Ask for the inputs with which an action would be accepted now.',
  report: 'Report what a game server has seen. For reporters and referees.',
  direct: 'Order what a referee may, or whoever leads the match.',
  describe: 'Ask for the rulebook as data.',
  ping: 'Ask for the match time, and show that you are there.',
  leave: 'Give the seat up.',
}
const RESULTS: { readonly [M in Method]: JsonSchema } = {
  join: joined,
  act: refOf('Ruling'),
  options: { type: 'array', items: mapOf(anything) },
  report: { anyOf: [refOf('Ruling'), { type: 'array', items: refOf('Ruling') }] },
  direct: refOf('Ruling'),
  describe: mapOf(anything),
  ping: objectOf({ at, others }, []),
  leave: refOf('Ruling'),
}

/** What clients call, with its params and its result. */
export function methods(): { readonly [M in Method]: MessageSchema } {
  const each = Object.entries(paramsSchemas).map(([method, schema]) => {
    const { $schema: _, ...params } = z.toJSONSchema(schema as z.ZodType, { io: 'input' })
    const known = method as Method
    return [method, { says: SAYS[known], params: params as JsonSchema, result: RESULTS[known] }]
  })
  return Object.fromEntries(each)
}

/** What the venue sends by itself. */
export const notifications: { readonly [name: string]: MessageSchema } = {
  view: {
    says: 'What has changed in the view: apply the patch, then the latest. A client that read too slowly gets the whole view instead.',
    params: objectOf(
      {
        n,
        at,
        patch: { type: 'array', items: refOf('Operation') },
        latest: {
          description:
            'Numbers of which only the latest counts, by rule, part, row and cell: a JSON Merge Patch (RFC 7396). It only changes what is there. A join with `latest: false` gets them in the patch.',
          type: 'object',
        },
        done: {
          description: 'The last action id of this seat that the view includes.',
          anyOf: [text, integer],
        },
        view: refOf('View'),
        notices: { type: 'array', items: refOf('Notice') },
      },
      ['n', 'at'],
    ),
  },
  notice: {
    says: 'Something has happened that this viewer may know. Show it until its time.',
    params: refOf('Notice'),
  },
  moved: {
    says: 'The match goes on at another venue. Nothing follows: join it there.',
    params: objectOf(
      {
        match: text,
        url: { ...text, description: 'The socket of that venue. If it is missing, join here again.' },
      },
      ['match'],
    ),
  },
  closed: {
    says: 'The match has ended, or this connection does. Nothing follows.',
    params: objectOf({ why: text, code: integer }, ['why']),
  },
}

/** The errors of calls, by code. */
export const errors: JsonSchema = objectOf({
  code: { enum: Object.values(rpcErrors).map(({ code }) => code) },
  message: text,
  data: { ...objectOf({ problem: { enum: Object.keys(rpcErrors) } }), additionalProperties: true },
})
