import type { RulebookDescription } from 'zinc-referee'
import type { JsonSchema } from './json-schema.ts'
import { definitionsOf, errors, type MessageSchema, methods, notifications } from './messages.ts'

const PATH = '/socket'
const capital = (name: string): string => name[0]?.toUpperCase() + name.slice(1)

/** Returns the JSON Schemas (2020-12) of all that goes over the wire in matches of a rulebook, under `$defs`. */
export function jsonSchemas(book: RulebookDescription): object {
  const calls = Object.entries(methods()).flatMap(([method, { params, result = {} }]) => [
    [`${capital(method)}Params`, params] as const,
    [`${capital(method)}Result`, result] as const,
  ])
  const sent = Object.entries(notifications).map(
    ([name, { params }]) => [`${capital(name)}Message`, params] as const,
  )
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: `What goes over the wire in ${book.name}`,
    $defs: {
      ...definitionsOf(book),
      ...Object.fromEntries(calls),
      ...Object.fromEntries(sent),
      Error: errors,
    },
  }
}

/** Returns the AsyncAPI 3 document of a venue's socket, for matches of a rulebook. */
export function asyncApi(book: RulebookDescription): object {
  const calls = Object.entries(methods())
  const messages = {
    ...Object.fromEntries(
      calls.flatMap(([method, call]) => [
        [method, requestOf(method, call)],
        [`${method}Answer`, answerOf(method, call)],
      ]),
    ),
    ...Object.fromEntries(
      Object.entries(notifications).map(([name, each]) => [name, notificationOf(name, each)]),
    ),
  }
  const onSocket = (message: string): object => ({ $ref: `#/channels/socket/messages/${message}` })
  return {
    asyncapi: '3.0.0',
    info: {
      title: `Matches of ${book.name}`,
      version: '1',
      description: `JSON-RPC 2.0, one object in each WebSocket text frame (subprotocol zinc-referee.v1), or in each line over TCP.`,
    },
    channels: {
      socket: {
        address: PATH,
        messages: Object.fromEntries(
          Object.keys(messages).map((name) => [name, { $ref: `#/components/messages/${name}` }]),
        ),
      },
    },
    operations: {
      ...Object.fromEntries(
        calls.map(([method, { says }]) => [
          method,
          {
            action: 'receive',
            summary: says,
            channel: { $ref: '#/channels/socket' },
            messages: [onSocket(method)],
            reply: { channel: { $ref: '#/channels/socket' }, messages: [onSocket(`${method}Answer`)] },
          },
        ]),
      ),
      ...Object.fromEntries(
        Object.entries(notifications).map(([name, { says }]) => [
          `send${capital(name)}`,
          {
            action: 'send',
            summary: says,
            channel: { $ref: '#/channels/socket' },
            messages: [onSocket(name)],
          },
        ]),
      ),
    },
    components: { messages, schemas: inComponents({ ...definitionsOf(book), Error: errors }) },
  }
}

/** Schemas refer to one another by where they are in the document. */
const inComponents = (schema: object): object =>
  JSON.parse(JSON.stringify(schema).replaceAll('"#/$defs/', '"#/components/schemas/'))

const envelope = (properties: { readonly [name: string]: object }, required: readonly string[]): object => ({
  type: 'object',
  properties: { jsonrpc: { const: '2.0' }, ...properties },
  required: ['jsonrpc', ...required],
})
const id: JsonSchema = { anyOf: [{ type: 'string' }, { type: 'number' }] }

const requestOf = (method: string, { says, params }: MessageSchema): object => ({
  name: method,
  summary: says,
  contentType: 'application/json',
  payload: inComponents(envelope({ id, method: { const: method }, params }, ['method'])),
})
const answerOf = (method: string, { result = {} }: MessageSchema): object => ({
  name: `${method}Answer`,
  summary: `The answer to ${method}: a result, or an error.`,
  contentType: 'application/json',
  payload: inComponents(envelope({ id, result, error: { $ref: '#/$defs/Error' } }, ['id'])),
})
const notificationOf = (name: string, { says, params }: MessageSchema): object => ({
  name,
  summary: says,
  contentType: 'application/json',
  payload: inComponents(envelope({ method: { const: name }, params }, ['method', 'params'])),
})
