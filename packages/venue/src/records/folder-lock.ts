import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** Folders that venues of this process have open. */
const own = new Set<string>()

/**
 * Takes a folder for one venue: two that went on with the same matches would write into one another's records. Returns
 * what gives it back, or nothing if another venue has it. A lock that a killed process has left does not count.
 */
export function lockFolder(folder: string): (() => void) | undefined {
  const path = join(folder, 'venue.lock')
  if (own.has(folder) || isAlive(holderOf(path))) return undefined
  writeFileSync(path, String(process.pid), { mode: 0o600 })
  own.add(folder)
  return () => {
    own.delete(folder)
    rmSync(path, { force: true })
  }
}

function holderOf(path: string): number {
  try {
    return Number(readFileSync(path, 'utf8'))
  } catch {
    return 0
  }
}

function isAlive(pid: number): boolean {
  if (!(pid > 0) || pid === process.pid) return false
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return Object(error).code === 'EPERM'
  }
}
