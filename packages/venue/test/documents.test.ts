import asyncApiSchema from '@asyncapi/specs/schemas/3.0.0-without-$id.json' with { type: 'json' }
import { Validator } from '@seriousme/openapi-schema-validator'
import { modes } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
import { asyncApi, clientTypes, jsonSchemas } from '@zinc-referee/venue/documents'
import { Ajv } from 'ajv'
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js'
import { expect, test } from 'vitest'
import { type AnyRulebook, beginAnyMatch, defineRulebook, minutes } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'
import { book } from './every-kind.ts'
import { SocketClient } from './socket-client.ts'

const valid = (check: ValidateFunction, value: unknown) => (check(value) ? [] : check.errors?.slice(0, 3))
const asyncApiDocument = new Ajv({ strict: false, validateFormats: false }).compile(asyncApiSchema as object)

test.each(Object.entries(modes))(
  'the documents of %s are valid, and fit all that viewers are sent in a demo',
  async (_name, mode) => {
    const { rulebook, demo } = mode!
    const match = beginAnyMatch(rulebook, { seed: 'fair-1' })
    expect(valid(asyncApiDocument, asyncApi(match.describe()))).toEqual([])
    const schemas = new Ajv2020({ strict: false }).addSchema(jsonSchemas(match.describe()), 'wire')
    const of = (name: string) => schemas.compile({ $ref: `wire#/$defs/${name}` })
    const [view, notice, message] = [of('View'), of('Notice'), of('ViewMessage')]
    const seats =
      demo.seats ??
      ['Otter', 'Heron', 'Vole', 'Newt', 'Coot'].map((name) => ({ id: name.toLowerCase(), name }))
    for (const { id, name } of seats.slice(0, rulebook.plan.seatLimits.max)) {
      match.direct('roster.join', { seat: id, name })
      match.submit(id, 'roster.ready', {})
    }
    const viewers = [...match.seats.slice(0, 2), 'spectator']
    for (const viewer of viewers) expect(valid(view, JSON.parse(match.addViewer(viewer).view))).toEqual([])
    let beats = 0
    playToEnd(match, demo.crowd!('fair-1'), minutes(4), () => {
      for (const { patch, latest = '{}', notices } of match.flush()) {
        const params = { n: 1, at: match.now, patch: JSON.parse(patch), latest: JSON.parse(latest) }
        if (!message(params)) expect(message.errors, patch).toEqual([])
        for (const each of notices) if (!notice(each)) expect(notice.errors, String(each)).toEqual([])
      }
      if (beats++ % 20 === 0)
        for (const viewer of viewers) expect(valid(view, match.view(viewer))).toEqual([])
    })
    expect(beats).toBeGreaterThan(10)
  },
)

test('what a mode does not have is in no schema of it', () => {
  const still = defineRulebook({ name: 'still', seats: { min: 1, max: 2 }, rules: [] })
  const viewOf = (of: AnyRulebook) =>
    Object(Object(jsonSchemas(beginAnyMatch(of, { seed: 'fair-1' }).describe())).$defs).View
  const partsOf = (schema: any): string[] =>
    Object.values<any>(schema.properties).flatMap(({ properties = {} }) => Object.keys(properties))
  expect(partsOf(viewOf(still))).not.toContain('options')
  expect(partsOf(viewOf(modes['stepping-stones']!.rulebook))).toContain('options')
})

test('what a venue answers fits its documents: HTTP by OpenAPI, calls and their results by JSON Schema', async () => {
  const { rulebook } = modes['stepping-stones']!
  const venue = await openVenue({ rulebooks: [rulebook] })
  const api = await (await fetch(`${venue.url}openapi.json`)).json()
  expect(await new Validator().validate(api)).toMatchObject({ valid: true })
  expect(Object.keys(api.paths)).toEqual([
    '/health',
    '/ready',
    '/metrics',
    '/matches',
    '/matches/{id}',
    '/matches/{id}/upgrade',
  ])
  const client = new SocketClient(venue.port)
  const { result } = await client.ask('join', { mode: 'stepping-stones', name: 'Otter' })
  const schemas = new Ajv2020({ strict: false }).addSchema(
    jsonSchemas(venue.matches[0]!.match.describe()),
    'wire',
  )
  const of = (name: string) => schemas.compile({ $ref: `wire#/$defs/${name}` })
  expect(valid(of('JoinResult'), result)).toEqual([])
  const calls = [
    ['act', { action: 'roster.ready', input: {}, id: 'a1' }],
    ['act', { action: 'stones.lay', input: { x: 99, y: 'no' } }],
    ['options', { action: 'stones.lay' }],
    ['ping', {}],
    ['describe', {}],
    ['direct', { directive: 'phases.start' }],
    ['leave', {}],
  ] as const
  for (const [method, params] of calls) {
    const name = method[0]?.toUpperCase() + method.slice(1)
    const answer = await client.ask(method, params)
    expect([method, valid(of(`${name}Params`), params)]).toEqual([method, []])
    expect([method, valid(of(`${name}Result`), answer.result)]).toEqual([method, []])
  }
  const { error } = await client.ask('act', { action: 'roster.ready' })
  expect(valid(of('Error'), error)).toEqual([])
  await venue.close()
})

test('the schemas and types of a mode with something of every kind', async () => {
  const described = beginAnyMatch(book, { seed: 'fair-1' }).describe()
  const printed = { schemas: jsonSchemas(described), asyncApi: asyncApi(described) }
  await expect(`${JSON.stringify(printed, null, 1)}\n`).toMatchFileSnapshot('exchanges/schemas.txt')
  await expect(clientTypes(described)).toMatchFileSnapshot('exchanges/types.txt')
})
