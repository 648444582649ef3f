import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import type { Order, ServerReport } from './orders.ts'

/** A server in a process of its own, and what it has used so far. */
export interface ServerUnderLoad {
  readonly port: number
  /** Processor time in ms, and resident memory in bytes. */
  usage(): { readonly cpu: number; readonly memory: number }
  stop(): Promise<void>
}

/** Begins one, and resolves when it listens. */
export function startServer(order: Order): Promise<ServerUnderLoad> {
  const child = fork(fileURLToPath(new URL('./server-process.js', import.meta.url)))
  let used = { cpu: 0, memory: 0 }
  const gone = new Promise<void>((resolve) => child.once('exit', () => resolve()))
  child.send(order)
  return new Promise((resolve, reject) => {
    child.once('error', reject)
    child.on('message', (report: ServerReport) => {
      if (report.kind === 'usage') used = report
      else
        resolve({
          port: report.port,
          usage: () => used,
          stop() {
            child.kill('SIGTERM')
            return gone
          },
        })
    })
  })
}
