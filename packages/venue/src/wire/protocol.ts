import { z } from 'zod'

/** Parameters of the JSON-RPC 2.0 requests that a client may send. */
export interface Params {
  readonly join: {
    readonly match?: string | undefined
    /** The mode of a match with room, which is begun if there is none. */
    readonly mode?: string | undefined
    /** Where an earlier connection of this seat has got to: it gets what it missed, if that is still known. */
    readonly from?: { readonly epoch: string; readonly n: number } | undefined
    /** The player's name. */
    readonly name?: string | undefined
    /** The secret by which a player gets the same seat again. A player without one gets one from the venue. */
    readonly player?: string | undefined
    /** Views without a seat: 'spectator', or the id of a seat if the venue lets anyone view as it. */
    readonly watch?: string | undefined
    /** A token that lets its holder in, at a venue that asks for one. */
    readonly admission?: string | undefined
    /** If false, updates are JSON Patches alone, without merge patches. */
    readonly latest?: boolean | undefined
  }
  readonly act: {
    readonly action: string
    readonly input?: unknown
    readonly id?: string | number | undefined
    readonly life?: number | undefined
    /** The turn that the player saw. In a later turn, the action is refused as stale. */
    readonly turn?: number | undefined
  }
  readonly options: {
    readonly action: string
    /** Choices made so far, for a rule that narrows its options by them. */
    readonly part?: { readonly [member: string]: unknown } | undefined
  }
  /** What a game server has seen. Several inputs are simultaneous. */
  readonly report: {
    readonly fact: string
    readonly input?: unknown
    readonly inputs?: readonly unknown[] | undefined
  }
  /** What a referee orders. */
  readonly direct: { readonly directive: string; readonly input?: unknown }
  /** Asks for the rulebook as data: its inputs, cells, texts, and who sees what. */
  readonly describe: object
  /** Asks for the match time, by which a client measures how far away the venue is. */
  readonly ping: object
  /** Gives the seat up. */
  readonly leave: object
}
export type Method = keyof Params
export type ParamsOf<M extends Method> = Params[M]

const word = z.string().max(200)
/** What the params of each method must be. */
export const paramsSchemas: { readonly [M in Method]: z.ZodType<Params[M]> } = {
  join: z.strictObject({
    match: word.optional(),
    mode: word.optional(),
    from: z.strictObject({ epoch: word, n: z.int().min(0) }).optional(),
    name: word.optional(),
    player: word.min(16).optional(),
    watch: word.optional(),
    admission: z.string().max(4000).optional(),
    latest: z.boolean().optional(),
  }),
  act: z.strictObject({
    action: word,
    input: z.unknown().optional(),
    id: z.union([word, z.int()]).optional(),
    life: z.int().optional(),
    turn: z.int().optional(),
  }),
  options: z.strictObject({ action: word, part: z.record(word, z.unknown()).optional() }),
  report: z.strictObject({
    fact: word,
    input: z.unknown().optional(),
    inputs: z.array(z.unknown()).max(1000).optional(),
  }),
  direct: z.strictObject({ directive: word, input: z.unknown().optional() }),
  describe: z.strictObject({}),
  ping: z.strictObject({}),
  leave: z.strictObject({}),
}

/** The error codes of the JSON-RPC specification, and the venue's own from −32000 on. */
export const rpcErrors = {
  'parse-error': {
    code: -32700,
    message:
      'This message is not JSON, or is nested too deeply. Send one JSON-RPC 2.0 object in each message.',
  },
  'invalid-request': {
    code: -32600,
    message: "This is not a JSON-RPC 2.0 request. Send { jsonrpc: '2.0', id, method, params }.",
  },
  'unknown-method': {
    code: -32601,
    message: 'Unknown method. There are join, act, options, leave, report, direct, describe and ping.',
  },
  'invalid-params': { code: -32602, message: 'The params do not fit the method. Fix what the issues name.' },
  'internal-error': { code: -32603, message: 'The venue failed; nothing happened. Try again.' },
  'unknown-match': {
    code: -32000,
    message: 'The venue has no such match. Ask for one that it lists under /matches.',
  },
  'unknown-mode': {
    code: -32010,
    message: 'The venue does not have this mode. Ask for one that it lists under /matches.',
  },
  full: { code: -32011, message: 'The venue hosts as many matches as it may. Try again in a while.' },
  'too-many-watchers': { code: -32012, message: 'As many watch this match as may. Watch another.' },
  'not-joined': { code: -32001, message: 'This connection has joined no match. Call join first.' },
  'already-joined': { code: -32002, message: 'This connection has joined already. Open another connection.' },
  'join-refused': { code: -32003, message: 'The match refused the join. The reason says why.' },
  'no-such-view': { code: -32004, message: "There is no such view to watch. Ask for 'spectator'." },
  'only-watching': {
    code: -32005,
    message: 'This connection only watches. Join with a seat to act, or to ask for options.',
  },
  'not-admitted': {
    code: -32007,
    message: 'This admission is not valid here. Ask whoever gave it to you for a new one.',
  },
  'too-fast': { code: -32008, message: 'Too many calls. Wait a second, then go on.' },
  'not-your-role': {
    code: -32009,
    message: 'Your admission is not for this. Reporters report, referees direct, players act.',
  },
  elsewhere: {
    code: -32013,
    message: 'Another venue has this match. Join it at the url in the data.',
  },
  'not-now': {
    code: -32006,
    message: 'The venue cannot keep what happens now, so the match stands still. Try again in a moment.',
  },
} as const
/** What is wrong with a call: the `problem` in its error's data. */
export type RpcProblem = keyof typeof rpcErrors

const request = z.object({
  jsonrpc: z.literal('2.0'),
  id: z.union([z.string(), z.number(), z.null()]).optional(),
  method: z.string(),
  params: z.unknown().optional(),
})
export type RpcId = string | number | null

/** A parsed request, or the problem with it and the id to answer to. */
export type Incoming =
  | { readonly ok: true; readonly id: RpcId | undefined; readonly call: Call }
  | {
      readonly ok: false
      readonly id: RpcId
      readonly problem: RpcProblem
      readonly issues?: readonly string[]
    }
export type Call = { [M in Method]: { readonly method: M; readonly params: ParamsOf<M> } }[Method]

const isMethod = (method: string): method is Method => Object.hasOwn(paramsSchemas, method)

const [BRACE, BRACKET] = [0x7b, 0x5b]

/** True if a text opens no more brackets than this, in strings too: then it cannot be nested deeper. */
function opensFew(text: string, most: number): boolean {
  let open = 0
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if ((code === BRACE || code === BRACKET) && ++open > most) return false
  }
  return true
}

const DEEPER = { '{': 1, '[': 1, '}': -1, ']': -1 } as const

/** True if brackets of a text are nested no deeper than this. Brackets in strings do not count. */
function isShallow(text: string, depth: number): boolean {
  if (opensFew(text, depth)) return true
  let open = 0
  for (const [found] of text.matchAll(/"(?:[^"\\]|\\.)*"|[[\]{}]/g)) {
    open += DEEPER[found as keyof typeof DEEPER] ?? 0
    if (open > depth) return false
  }
  return true
}

/** Reads a message. `depth`: how deep it may be nested. */
export function readRequest(text: string, depth: number): Incoming {
  let value: unknown
  try {
    if (!isShallow(text, depth)) throw new SyntaxError('nested too deeply')
    value = JSON.parse(text)
  } catch {
    return { ok: false, id: null, problem: 'parse-error' }
  }
  const asked = request.safeParse(value)
  if (!asked.success) return { ok: false, id: null, problem: 'invalid-request' }
  const { id, method } = asked.data
  if (!isMethod(method)) return { ok: false, id: id ?? null, problem: 'unknown-method' }
  const given = paramsSchemas[method].safeParse(asked.data.params ?? {})
  if (!given.success)
    return {
      ok: false,
      id: id ?? null,
      problem: 'invalid-params',
      issues: given.error.issues.map(({ path, message }) => `${path.join('.') || 'params'}: ${message}`),
    }
  return { ok: true, id, call: { method, params: given.data } as Call }
}

export const resultText = (id: RpcId, result: string): string =>
  `{"jsonrpc":"2.0","id":${JSON.stringify(id)},"result":${result}}`
export const notificationText = (method: 'view' | 'notice' | 'moved' | 'closed', text: string): string =>
  `{"jsonrpc":"2.0","method":"${method}","params":${text}}`
export function errorText(id: RpcId, problem: RpcProblem, details: object = {}): string {
  return JSON.stringify({
    jsonrpc: '2.0',
    id,
    error: { ...rpcErrors[problem], data: { problem, ...details } },
  })
}
