import { parentPort, workerData } from 'node:worker_threads'
import type { RunPart, WorkerSays, WorkerTask } from './workers.ts'

const say = (said: WorkerSays): void => parentPort?.postMessage(said)
const { module, task }: WorkerTask = workerData

try {
  const { runPart }: { readonly runPart: RunPart<unknown, unknown> } = await import(module)
  say({ part: await runPart(task, (done, all) => say({ done, all })) })
} catch (error) {
  say({ failed: error instanceof Error ? error.message : String(error) })
}
