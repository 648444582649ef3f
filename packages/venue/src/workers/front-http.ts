import { type IncomingMessage, request, type ServerResponse } from 'node:http'
import { pipeline } from 'node:stream'
import { ask, type Finder } from './find-worker.ts'
import { togetherMetrics } from './metrics.ts'
import type { WorkerProcess } from './worker-process.ts'

/** A body that begins a match is small. */
const MOST_BODY = 256 * 1024

/** Answers HTTP for all workers: what is about one match by the worker that has it, what is about all put together. */
export async function answerHttp(
  finder: Finder,
  asked: IncomingMessage,
  answer: ServerResponse,
  isClosing: () => boolean,
): Promise<void> {
  const { method = 'GET', url = '/' } = asked
  const { pathname, search } = new URL(url, 'http://front')
  const { authorization } = asked.headers
  const [, first, id, ...more] = pathname.split('/')
  if (pathname === '/health') return json(answer, 200, { ok: true })
  if (pathname === '/ready') return ready(finder, answer, isClosing())
  if (pathname === '/metrics') {
    const texts = await Promise.all(
      finder.present.map(async (worker) => [worker.number, (await ask(worker, url))?.text ?? ''] as const),
    )
    answer.setHeader('content-type', 'application/openmetrics-text; version=1.0.0; charset=utf-8')
    return void answer.end(togetherMetrics(texts))
  }
  if (pathname === '/matches' && method === 'GET') {
    const [one] = finder.present
    // One of them says what is wrong with the question, or who may not ask.
    const status = one === undefined ? 503 : ((await ask(one, url, authorization))?.status ?? 503)
    if (status !== 200) return passOn(one, asked, answer)
    return json(
      answer,
      200,
      (await finder.matches(search, authorization)).map(([summary]) => summary),
    )
  }
  if (pathname === '/matches' && method === 'POST') return begin(finder, asked, answer)
  if (first === 'matches' && id !== undefined && id !== '' && more.length <= 1)
    return passOn(there(finder, await finder.ownerOf(decoded(id), authorization)), asked, answer)
  return passOn(finder.present[0], asked, answer)
}

/** A new match goes to the worker with the fewest; one with an id that is taken, to whoever has it, which refuses. */
async function begin(finder: Finder, asked: IncomingMessage, answer: ServerResponse): Promise<void> {
  const chunks: Buffer[] = []
  let length = 0
  for await (const chunk of asked) {
    length += (chunk as Buffer).length
    if (length > MOST_BODY)
      return json(answer, 413, {
        status: 413,
        code: 'bad-request',
        title: 'Too large',
        detail: 'The body is too large. Send less.',
      })
    chunks.push(chunk as Buffer)
  }
  const body = Buffer.concat(chunks)
  const id = idIn(String(body))
  const owner = id === undefined ? undefined : await finder.ownerOf(id, asked.headers.authorization)
  return passOn(owner === undefined ? await finder.idlest() : there(finder, owner), asked, answer, body)
}

/** The worker to ask about a match: whichever it is can say that there is no such match, but not while one is missing. */
const there = (finder: Finder, owner: WorkerProcess | 'missing' | undefined): WorkerProcess | undefined =>
  owner === 'missing' ? undefined : (owner ?? finder.present[0])

function idIn(text: string): string | undefined {
  try {
    const { id } = Object(JSON.parse(text)) as { readonly id?: unknown }
    return typeof id === 'string' ? id : undefined
  } catch {
    return undefined // the worker says what is wrong
  }
}

async function ready(finder: Finder, answer: ServerResponse, isClosing: boolean): Promise<void> {
  const each = await Promise.all(
    finder.present.map(async (worker): Promise<{ ready: boolean; stands?: string[] } | undefined> => {
      const answer = await ask(worker, '/ready')
      return answer && JSON.parse(answer.text)
    }),
  )
  const stands = each.flatMap((one) => one?.stands ?? [])
  const isReady = !isClosing && !finder.isShort && each.every((one) => one?.ready === true)
  json(answer, isReady ? 200 : 503, { ready: isReady, ...(stands.length > 0 && { stands }) })
}

/** Passes a request on to a worker, and its answer back. */
function passOn(
  worker: WorkerProcess | undefined,
  asked: IncomingMessage,
  answer: ServerResponse,
  body?: Buffer,
): void {
  const gone = (): void =>
    json(answer, 503, {
      status: 503,
      code: 'not-now',
      title: 'Not now',
      detail: 'A worker is missing. Try again in a moment.',
    })
  if (worker?.port === undefined) {
    gone()
    return
  }
  const { method, url, headers } = asked
  const onward = request({ host: '127.0.0.1', port: worker.port, method, path: url, headers }, (got) => {
    answer.writeHead(got.statusCode ?? 502, got.headers)
    pipeline(got, answer, () => {}) // one that is torn here is torn there
  })
  onward.on('error', () => (answer.headersSent ? answer.destroy() : gone()))
  if (body === undefined) asked.pipe(onward)
  else onward.end(body)
}

function decoded(id: string): string {
  try {
    return decodeURIComponent(id)
  } catch {
    return id
  }
}

function json(answer: ServerResponse, status: number, body: object): void {
  const type = status < 400 || !('code' in body) ? 'application/json' : 'application/problem+json'
  answer.writeHead(status, { 'content-type': `${type}; charset=utf-8` }).end(JSON.stringify(body))
}
