import { Worker } from 'node:worker_threads'
import type { AuditPart } from 'zinc-referee/testing'
import { CommandError } from '../errors.ts'
import { dim } from '../print/output.ts'
import { type PartTask, runPart } from './audit-part.ts'

/** Messages of a worker: its progress, its part of the audit, or why there is none. */
export type WorkerSays =
  | { readonly done: number; readonly all: number }
  | { readonly part: AuditPart }
  | { readonly failed: string }

/** Runs a part of an audit: in a worker, or in this thread if it is the only part. */
export function runInParallel(task: PartTask, progress: Progress): Promise<AuditPart> {
  if (task.of === 1) return runPart(task, (done, all) => progress.tell(0, { done, all }))
  const worker = new Worker(new URL('./worker.js', import.meta.url), { workerData: task })
  return new Promise((resolve, reject) => {
    worker.on('message', (said: WorkerSays) => {
      if ('part' in said) resolve(said.part)
      else if ('failed' in said) reject(new CommandError(said.failed))
      else progress.tell(task.part, said)
    })
    worker.on('error', reject)
  })
}

/**
 * Shows on one line of the terminal how many moments have been compared. Shows nothing if the output is not a
 * terminal.
 */
export class Progress {
  private readonly parts: { done: number; all: number }[]

  constructor(of: number) {
    this.parts = Array.from({ length: of }, () => ({ done: 0, all: 0 }))
  }

  tell(part: number, said: { readonly done: number; readonly all: number }): void {
    this.parts[part] = said
    if (!process.stderr.isTTY) return
    const sum = (of: 'done' | 'all'): number => this.parts.reduce((so, each) => so + each[of], 0)
    process.stderr.write(`\r${dim(`comparing twins   ${sum('done')} of ${sum('all')} moments`)}`)
  }

  end(): void {
    if (process.stderr.isTTY) process.stderr.write('\r\u001b[2K')
  }
}
