import { parentPort, workerData } from 'node:worker_threads'
import { runPart } from './audit-part.ts'
import type { WorkerSays } from './workers.ts'

const say = (said: WorkerSays): void => parentPort?.postMessage(said)

try {
  say({ part: await runPart(workerData, (done, all) => say({ done, all })) })
} catch (error) {
  say({ failed: error instanceof Error ? error.message : String(error) })
}
