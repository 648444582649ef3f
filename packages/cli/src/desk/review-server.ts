import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { fileURLToPath } from 'node:url'
import sirv from 'sirv'
import { stringify } from 'yaml'
import { type AnyRulebook, isRefereeError, type RecordContent } from 'zinc-referee'
import {
  cutScenario,
  explain,
  shortCauses,
  type Timeline,
  type Track,
  timelineOf,
  tracksOf,
} from 'zinc-referee/testing'

/** A page that looks back at one record, for this machine alone: a record holds every secret of its match. */
export interface ReviewServer {
  readonly url: string
  close(): Promise<void>
}

/** So many viewers are asked for at once. */
const MOST_VIEWERS = 4
const OWN = /^(localhost|127(\.\d+){3}|\[::1\])(:\d+)?$/

/**
 * Plays the record once, then serves the built page in a folder, and its data. `file`: what the record is called.
 * @throws what `timelineOf` throws
 */
export async function openReview(
  book: AnyRulebook,
  content: RecordContent,
  { file, port, page }: { readonly file: string; readonly port: number; readonly page: URL },
): Promise<ReviewServer> {
  const files = sirv(fileURLToPath(page), { single: true })
  const review = new Review(book, content, file)
  const server = createServer((asked, answer) => {
    if (!OWN.test(asked.headers.host ?? ''))
      send(answer, 403, { error: 'This page is for this machine alone.' })
    else if (!answered(review, asked, answer))
      files(asked, answer, () => send(answer, 404, { error: 'Nothing is here.' }))
  })
  await new Promise<void>((open, fail) => server.once('error', fail).listen(port, '127.0.0.1', open))
  const { port: listening } = server.address() as AddressInfo
  return {
    url: `http://127.0.0.1:${listening}/`,
    close: () =>
      new Promise((closed) => {
        server.closeAllConnections()
        server.close(() => closed())
      }),
  }
}

/** What the page asks for. What takes a replay is done once, and what it begins with before anybody asks. */
class Review {
  readonly timeline: Timeline & { readonly file: string }
  private readonly book: AnyRulebook
  private readonly content: RecordContent
  private readonly tracks: Map<string, Track> = new Map()

  constructor(book: AnyRulebook, content: RecordContent, file: string) {
    this.book = book
    this.content = content
    this.timeline = { file, ...timelineOf(book, content) }
  }

  track(viewers: readonly string[]): readonly Track[] {
    const missing = viewers.filter((viewer) => !this.tracks.has(viewer))
    if (missing.length > 0)
      for (const track of tracksOf(this.book, this.content, missing)) this.tracks.set(track.viewer, track)
    return viewers.flatMap((viewer) => this.tracks.get(viewer) ?? [])
  }

  why(question: string): object {
    const explanation = explain(this.book, this.content, question)
    return { ...explanation, short: shortCauses(explanation) }
  }

  scenario(line: number): string {
    return stringify(cutScenario(this.book, this.content, { line }), { lineWidth: 120 })
  }
}

/** Answers a question of the page. Returns false if it is none. */
function answered(review: Review, { url = '/' }: IncomingMessage, answer: ServerResponse): boolean {
  const { pathname, searchParams } = new URL(url, 'http://desk')
  const viewers = (searchParams.get('viewers') ?? '').split(',').filter(Boolean).slice(0, MOST_VIEWERS)
  const answers: { readonly [path: string]: () => object | string } = {
    '/timeline': () => review.timeline,
    '/tracks': () => review.track(viewers),
    '/why': () => review.why(searchParams.get('question') ?? ''),
    '/scenario': () => review.scenario(Number(searchParams.get('line'))),
  }
  const give = answers[pathname]
  if (give === undefined) return false
  try {
    send(answer, 200, give())
  } catch (error) {
    if (!isRefereeError(error)) throw error
    send(answer, 400, { error: error.message })
  }
  return true
}

function send(answer: ServerResponse, status: number, body: object | string): void {
  const [type, text] =
    typeof body === 'string' ? ['application/yaml', body] : ['application/json', JSON.stringify(body)]
  answer
    .writeHead(status, { 'content-type': `${type}; charset=utf-8`, 'cache-control': 'no-store' })
    .end(text)
}
