import { type ChildProcess, fork } from 'node:child_process'
import type { Log } from '../log.ts'

/** What a worker says once its venue is open, or why it is not. */
export type WorkerSays =
  | { readonly port: number; readonly isOpen: boolean }
  | { readonly failed: { readonly code: string; readonly message: string } }
/** What a worker is asked to do before it ends. */
export type WorkerOrder = 'close' | 'suspend'

/** By these a process knows that it is a worker: its number from 1, and how many there are. */
export const NUMBER = 'ZINC_REFEREE_WORKER'
export const COUNT = 'ZINC_REFEREE_WORKERS'

/** How a worker is begun. */
export interface WorkerStart {
  /** The module that calls `runWorker`. */
  readonly entry: string
  readonly args: readonly string[]
  /** Options of Node. */
  readonly nodeArgs: readonly string[]
  readonly count: number
  readonly log: Log
  /** Called when the process has ended although nobody asked it to. */
  readonly died: (worker: WorkerProcess) => void
}

const [FIRST_WAIT, LONGEST_WAIT] = [100, 5000]

/** One worker: a process, and another one in its place when it has died. */
export class WorkerProcess {
  readonly number: number
  /** Where its venue listens, on this machine; undefined while there is none. */
  port: number | undefined
  /** True if anybody may come in. */
  isOpen = false
  private readonly start: WorkerStart
  private child: ChildProcess | undefined
  private isStopping = false
  private wasOpen = false
  private deaths = 0

  constructor(number: number, start: WorkerStart) {
    this.number = number
    this.start = start
  }

  /** The id of the process, while there is one. */
  get pid(): number | undefined {
    return this.port === undefined ? undefined : this.child?.pid
  }

  /** Begins the process. Resolves when its venue is open. Rejects with what keeps it from that. */
  begin(): Promise<void> {
    const { entry, args, nodeArgs, count } = this.start
    const child = fork(entry, args, {
      execArgv: [...nodeArgs],
      env: { ...process.env, [NUMBER]: String(this.number), [COUNT]: String(count) },
    })
    this.child = child
    return new Promise((resolve, reject) => {
      child.once('message', (says: WorkerSays) => {
        if ('failed' in says) {
          this.isStopping = true
          reject(Object.assign(new Error(says.failed.message), { code: says.failed.code }))
          return
        }
        this.port = says.port
        this.isOpen = says.isOpen
        this.deaths = 0
        this.wasOpen = true
        resolve()
      })
      child.once('exit', (code, signal) => {
        this.port = undefined
        reject(new Error(`worker ${this.number} has ended with ${signal ?? code} before its venue was open`))
        if (this.wasOpen && !this.isStopping) this.comeBack(signal ?? code)
      })
    })
  }

  private comeBack(why: string | number | null): void {
    const { log, died } = this.start
    log.error({ worker: this.number, why }, 'worker died')
    died(this)
    const wait = Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** this.deaths++)
    setTimeout(() => {
      if (this.isStopping) return
      this.begin().then(
        () => log.info({ worker: this.number }, 'worker is back'),
        () => {}, // it has been said that it died
      )
    }, wait)
  }

  /** Asks the process to end. Resolves when it has. */
  stop(order: WorkerOrder): Promise<void> {
    this.isStopping = true
    const { child } = this
    if (child === undefined || child.exitCode !== null || child.signalCode !== null) return Promise.resolve()
    return new Promise((ended) => {
      child.once('exit', () => ended())
      // Who is gone already cannot be asked.
      if (child.connected) child.send(order, (error) => error !== null && child.kill())
      else child.kill()
    })
  }
}
