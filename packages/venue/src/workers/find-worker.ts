import type { MatchSummary } from '../matches/index.ts'
import type { WorkerProcess } from './worker-process.ts'

/** What a client wants, as its `join` says. */
export interface WantedMatch {
  readonly match?: unknown
  readonly mode?: unknown
}

/** Finds the worker for a match. It asks the workers each time, and knows nothing by heart. */
export class Finder {
  private readonly workers: readonly WorkerProcess[]
  /** By mode, the search that is under way: another one waits for it, so that two who search meet. */
  private readonly searches: Map<unknown, Promise<unknown>> = new Map()

  constructor(workers: readonly WorkerProcess[]) {
    this.workers = workers
  }

  /** The workers that are there. */
  get present(): readonly WorkerProcess[] {
    return this.workers.filter(({ port }) => port !== undefined)
  }

  /** True while a worker is missing. */
  get isShort(): boolean {
    return this.present.length < this.workers.length
  }

  /**
   * Returns the worker that has a match; undefined if none has it; `missing` if a worker that may have it is not there. One that
   * does not answer is not there, even if its process has not been seen to end.
   */
  async ownerOf(match: string, authorization = ''): Promise<WorkerProcess | 'missing' | undefined> {
    const { isShort } = this
    const answers = await Promise.all(
      this.present.map(
        async (worker) =>
          [
            worker,
            (await ask(worker, `/matches/${encodeURIComponent(match)}`, authorization))?.status,
          ] as const,
      ),
    )
    const [owner] = answers.find(([, status]) => status === 200) ?? []
    return owner ?? (isShort || answers.some(([, status]) => status === undefined) ? 'missing' : undefined)
  }

  /** The matches of all workers, with the worker that has each. */
  async matches(
    query = '',
    authorization = '',
  ): Promise<readonly (readonly [MatchSummary, WorkerProcess])[]> {
    const each = await Promise.all(
      this.present.map(async (worker) => {
        const answer = await ask(worker, `/matches${query}`, authorization)
        const listed: MatchSummary[] = answer?.status === 200 ? JSON.parse(answer.text) : []
        return listed.map((summary) => [summary, worker] as const)
      }),
    )
    return each.flat()
  }

  /**
   * Returns the worker to join a match at: the one that has the match; else one with room in a match of the mode; else the
   * one with the fewest matches, which begins one. `then` is waited for before the next one searches.
   */
  async forJoin(
    { match, mode }: WantedMatch,
    then: (worker: WorkerProcess | 'missing' | undefined) => Promise<unknown>,
  ): Promise<void> {
    if (typeof match === 'string') {
      await then(await this.ownerOf(match))
      return
    }
    const before = this.searches.get(mode)
    const search = (async () => {
      await before?.catch(() => undefined)
      await then(await this.withRoom(mode))
    })().finally(() => {
      if (this.searches.get(mode) === search) this.searches.delete(mode)
    })
    this.searches.set(mode, search)
    await search
  }

  /** Returns the worker with the fewest matches. */
  async idlest(): Promise<WorkerProcess | undefined> {
    const all = await this.matches()
    const count = (worker: WorkerProcess): number => all.filter(([, has]) => has === worker).length
    return [...this.present].sort((a, b) => count(a) - count(b) || a.number - b.number)[0]
  }

  private async withRoom(mode: unknown): Promise<WorkerProcess | undefined> {
    const all = (await this.matches()).filter(([match]) => mode === undefined || match.mode === mode)
    const free = all.filter(([{ seats, phase }]) => seats.free > 0 && phase !== 'over')
    const [fullest] = free.sort(([a], [b]) => b.seats.taken - a.seats.taken)
    return fullest?.[1] ?? (mode === undefined ? all[0]?.[1] : undefined) ?? this.idlest()
  }
}

/** Asks a worker's venue over HTTP. Returns its whole answer; nothing if it is gone, before the end of its answer too. */
export async function ask(
  { port }: WorkerProcess,
  path: string,
  authorization = '',
): Promise<{ readonly status: number; readonly text: string } | undefined> {
  const headers = authorization === '' ? {} : { authorization }
  try {
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, { headers })
    return { status: answer.status, text: await answer.text() }
  } catch {
    return undefined
  }
}
