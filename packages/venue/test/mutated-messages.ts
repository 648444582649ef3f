import fc from 'fast-check'

const calls = [
  { method: 'join', params: { match: 'one', name: 'Vole' } },
  { method: 'join', params: { watch: 'spectator' } },
  { method: 'join', params: { match: 'one', watch: 'otter' } },
  {
    method: 'join',
    params: { mode: 'reed-regatta', from: { epoch: 'x', n: 3 }, player: 'a-secret-of-the-fair' },
  },
  { method: 'act', params: { action: 'raft.chase', input: { quarry: 'heron' }, id: 'a1', life: 1, turn: 2 } },
  { method: 'act', params: { action: 'roster.ready' } },
  { method: 'options', params: { action: 'raft.chase', part: { quarry: 'otter' } } },
  { method: 'report', params: { fact: 'raft.found', inputs: [{ seat: 'otter', crates: 2 }] } },
  { method: 'direct', params: { directive: 'match.set', input: { rule: 'rounds', settings: { count: 2 } } } },
  { method: 'describe', params: {} },
  { method: 'leave', params: {} },
] as const

const odd = fc.oneof(
  fc.constantFrom(
    null,
    true,
    '',
    '__proto__',
    1e308,
    -0,
    2 ** 53,
    '\u0000',
    '\ud800',
    [],
    {},
    'x'.repeat(300),
  ),
  fc.anything({ maxDepth: 3, withNullPrototype: false }),
)
/** Puts something odd in place of a member, or beside the others. */
const changed: fc.Arbitrary<string> = fc
  .tuple(fc.constantFrom(...calls), fc.nat(3), fc.string({ maxLength: 12 }), odd, fc.nat(9))
  .map(([{ method, params }, how, name, value, id]) => {
    const names = Object.keys(params)
    const place = names[how % Math.max(1, names.length)] ?? name
    const message: Record<string, unknown> = {
      jsonrpc: '2.0',
      id,
      method,
      params: { ...params, [place]: value },
    }
    if (how === 1) message['params'] = { ...params, [name]: value }
    if (how === 2) message[name] = value
    if (how === 3) message['params'] = value
    return json(message)
  })
/** Cuts, doubles and flips characters of a message. */
const broken: fc.Arbitrary<string> = fc
  .tuple(
    fc.constantFrom(...calls),
    fc.nat(200),
    fc.nat(200),
    fc.constantFrom('cut', 'double', 'flip'),
    fc.nat(255),
  )
  .map(([call, from, to, how, code]) => {
    const text = json({ jsonrpc: '2.0', id: 1, ...call })
    if (how === 'cut') return text.slice(0, from) + text.slice(to)
    if (how === 'double') return text + text.slice(from)
    return text.slice(0, from) + String.fromCharCode(code) + text.slice(from + 1)
  })

function json(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'undefined'
  } catch {
    return '{}' // such as a bigint
  }
}

/** Messages that are nearly right, as lines: seeded, so that what fails once fails again. */
export const mutatedMessages: fc.Arbitrary<string> = fc
  .oneof(
    { weight: 5, arbitrary: changed },
    { weight: 4, arbitrary: broken },
    { weight: 1, arbitrary: fc.json() },
  )
  .map((text) => text.replaceAll(/[\r\n]/g, ' '))
