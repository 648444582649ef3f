import type { RulebookDescription } from 'zinc-referee'
import type { JsonSchema } from './json-schema.ts'
import { definitionsOf } from './messages.ts'

/** Returns TypeScript types for a client that does not have the rulebook: its view, its notices, and what it may send. */
export function clientTypes(book: RulebookDescription): string {
  const { View = {}, Notice = {}, Act = {}, Report = {}, Direct = {} } = definitionsOf(book)
  const types = [
    ['View', 'What any viewer may be shown. What is hidden from a viewer is missing.', View],
    ['Notice', 'What a viewer may be notified of.', Notice],
    ['Act', 'What a player may do.', Act],
    ['Report', 'What a game server may report.', Report],
    ['Direct', 'What a referee may order.', Direct],
  ] as const
  return `// Types of the mode ${book.name}, for its clients.\n${types
    .map(([name, says, schema]) => `\n/** ${says} */\nexport type ${name} = ${typeText(schema, '')}\n`)
    .join('')}`
}

const NAME = /^[A-Za-z_$][\w$]*$/
const SIMPLE: { readonly [type: string]: string } = { integer: 'number', null: 'null', object: 'object' }

/** Returns a schema as a type. */
function typeText(schema: JsonSchema, indent: string): string {
  if (schema.const !== undefined) return literal(schema.const)
  if (schema.enum !== undefined) return schema.enum.map(literal).join(' | ')
  if (schema.anyOf !== undefined) return schema.anyOf.map((each) => typeText(each, indent)).join(' | ')
  if (schema.type === 'array') return `readonly (${typeText(schema.items ?? {}, indent)})[]`
  if (schema.properties !== undefined) return membersText(schema, indent)
  if (typeof schema.additionalProperties === 'object')
    return `{ readonly [id: string]: ${typeText(schema.additionalProperties, indent)} }`
  return schema.type === undefined ? 'unknown' : (SIMPLE[schema.type] ?? schema.type)
}

function membersText({ properties = {}, required = [] }: JsonSchema, indent: string): string {
  const members = Object.entries(properties)
  if (members.length === 0) return '{}'
  const deeper = `${indent}  `
  const lines = members.map(([name, schema]) => {
    const says = schema.description === undefined ? '' : `${deeper}/** ${schema.description} */\n`
    const key = NAME.test(name) ? name : literal(name)
    return `${says}${deeper}readonly ${key}${required.includes(name) ? '' : '?'}: ${typeText(schema, deeper)}\n`
  })
  return `{\n${lines.join('')}${indent}}`
}

const literal = (value: unknown): string =>
  typeof value === 'string' ? `'${value.replaceAll(/['\\]/g, '\\$&')}'` : JSON.stringify(value)
