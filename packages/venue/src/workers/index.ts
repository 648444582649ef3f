export { openWorkers, type Workers, type WorkersOptions } from './open-workers.ts'
export { runWorker, thisWorker } from './run-worker.ts'
