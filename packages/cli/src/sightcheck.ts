import { availableParallelism } from 'node:os'
import { Worker } from 'node:worker_threads'
import { formatElapsed } from 'zinc-referee'
import { type AuditPart, joinAudits, type SightAudit } from 'zinc-referee/testing'
import { CommandError, exit } from './errors.ts'
import { faultLines } from './fault-lines.ts'
import { columns, dim, print, printJson, strong } from './output.ts'
import { askedOf, type SightcheckOptions } from './sightcheck-asked.ts'

/** What a worker says: how far it is, its part of the audit, or why there is none. */
export type WorkerSays =
  | { readonly done: number; readonly all: number }
  | { readonly part: AuditPart }
  | { readonly failed: string }

/** Checks whether a viewer can infer something that it must not see, in a played or recorded match. */
export async function sightcheck(name: string | undefined, options: SightcheckOptions): Promise<number> {
  const { mode, told } = await askedOf(name, options)
  const of = options.workers ?? availableParallelism()
  if (of < 1)
    throw new CommandError('There must be at least one worker. Leave --workers out for one per core.')
  const progress = new Progress(of)
  const parts = await Promise.all(
    Array.from({ length: of }, (_, part) => inWorker({ name, options, part, of }, progress)),
  )
  progress.end()
  const audit = joinAudits(parts)
  if (options.json) printJson({ mode: mode.rulebook.name, ...told, ...audit })
  else
    print(
      `${[strong(mode.title), ...Object.entries(told).map(([what, value]) => `${what} ${value}`)].join('   ')}   ${audit.compared} pairs of matches compared`,
      ...blocks(audit),
    )
  const isClean = audit.leaks.length === 0 && audit.faults.length === 0
  return isClean && (audit.incomplete.length === 0 || options.strict !== true) ? exit.done : exit.finding
}

/** What a worker is to do. */
export interface WorkerTask {
  readonly name: string | undefined
  readonly options: SightcheckOptions
  readonly part: number
  readonly of: number
}

function inWorker(task: WorkerTask, progress: Progress): Promise<AuditPart> {
  const worker = new Worker(new URL('./sightcheck-worker.js', import.meta.url), { workerData: task })
  return new Promise((resolve, reject) => {
    worker.on('message', (said: WorkerSays) => {
      if ('part' in said) resolve(said.part)
      else if ('failed' in said) reject(new CommandError(said.failed))
      else progress.tell(task.part, said)
    })
    worker.on('error', reject)
  })
}

/** One line on the terminal that says how many moments have been compared; nothing where nobody looks at it. */
class Progress {
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

function blocks({ leaks, disclosed, secrets, incomplete, faults }: SightAudit): string[] {
  return [
    columns(
      ['secret', 'varied', 'moments', 'steps'],
      Object.entries(secrets).map(([secret, { varied, moments, steps }]) => [
        secret,
        String(varied),
        String(moments),
        String(steps ?? ''),
      ]),
    ),
    ...(disclosed.length === 0
      ? []
      : [
          columns(
            ['revealed on purpose', 'by', 'to', 'times', 'why'],
            disclosed.map(({ secret, by, to, times, why }) => [
              secret,
              [by].flat().join(', '),
              to,
              String(Object.values(times).reduce((sum, count) => sum + count, 0)),
              why,
            ]),
          ),
        ]),
    leaks.length === 0
      ? `${dim('leaks')}   none`
      : columns(
          ['leak', 'of', 'to', 'at', 'where', 'after'],
          leaks.map(({ by, secret, viewer, at, path, inputs }) => [
            by,
            secret,
            viewer,
            formatElapsed(at),
            path,
            inputs.slice(-3).join(', '),
          ]),
        ),
    ...(incomplete.length === 0 ? [] : [`${strong('incomplete')}\n${incomplete.join('\n')}`]),
    ...faultLines(faults),
  ]
}
