import { Worker } from 'node:worker_threads'
import { CommandError } from '../errors.ts'
import { dim } from '../print/output.ts'

/** Called with how much of a part is done. */
export type Tell = (done: number, all: number) => void
/** Runs one part of some work, in this thread or in a worker. What it takes and gives can be sent to another thread. */
export type RunPart<T, R> = (task: T, tell: Tell) => Promise<R>

/** Messages of a worker: its progress, its part of the work, or why there is none. */
export type WorkerSays<R = unknown> =
  | { readonly done: number; readonly all: number }
  | { readonly part: R }
  | { readonly failed: string }

/** What a worker is begun with: the module that has `runPart`, and its task. */
export interface WorkerTask {
  readonly module: string
  readonly task: unknown
}

/**
 * Runs all parts of some work at once: each in a worker, or in this thread if it is the only one. `module` is the address of
 * the module that exports `runPart`, and `doing` what is shown of the progress on a terminal.
 */
export async function runInParallel<T, R>(
  tasks: readonly T[],
  {
    module,
    runPart,
    doing,
  }: {
    readonly module: URL
    readonly runPart: RunPart<T, R>
    readonly doing: (done: number, all: number) => string
  },
): Promise<readonly R[]> {
  const progress = new Progress(tasks.length, doing)
  try {
    return await Promise.all(
      tasks.map((task, part) => {
        const tell: Tell = (done, all) => progress.tell(part, done, all)
        return tasks.length === 1 ? runPart(task, tell) : inWorker<R>({ module: module.href, task }, tell)
      }),
    )
  } finally {
    progress.end()
  }
}

function inWorker<R>(workerData: WorkerTask, tell: Tell): Promise<R> {
  const worker = new Worker(new URL('./worker.js', import.meta.url), { workerData })
  return new Promise((resolve, reject) => {
    worker.on('message', (said: WorkerSays<R>) => {
      if ('part' in said) resolve(said.part)
      else if ('failed' in said) reject(new CommandError(said.failed))
      else tell(said.done, said.all)
    })
    worker.on('error', reject)
  })
}

/** Shows the progress of all parts on one line of the terminal. Shows nothing if the output is not a terminal. */
class Progress {
  private readonly parts: { done: number; all: number }[]
  private readonly doing: (done: number, all: number) => string

  constructor(of: number, doing: (done: number, all: number) => string) {
    this.parts = Array.from({ length: of }, () => ({ done: 0, all: 0 }))
    this.doing = doing
  }

  tell(part: number, done: number, all: number): void {
    this.parts[part] = { done, all }
    if (!process.stderr.isTTY) return
    const sum = (of: 'done' | 'all'): number => this.parts.reduce((so, each) => so + each[of], 0)
    process.stderr.write(`\r${dim(this.doing(sum('done'), sum('all')))}`)
  }

  end(): void {
    if (process.stderr.isTTY) process.stderr.write('\r\u001b[2K')
  }
}
