import { parentPort, workerData } from 'node:worker_threads'
import { auditPart } from 'zinc-referee/testing'
import { askedOf } from './asked.ts'
import type { WorkerSays, WorkerTask } from './workers.ts'

const { name, options, part, of }: WorkerTask = workerData
const say = (said: WorkerSays): void => parentPort?.postMessage(said)
const latest = options.seconds === undefined ? Number.POSITIVE_INFINITY : Date.now() + options.seconds * 1000

try {
  const { mode, asked } = await askedOf(name, options)
  const goOn = (done: number, all: number): boolean => {
    say({ done, all })
    return Date.now() < latest
  }
  say({ part: auditPart(mode.rulebook, asked, { part, of, goOn }) })
} catch (error) {
  say({ failed: error instanceof Error ? error.message : String(error) })
}
