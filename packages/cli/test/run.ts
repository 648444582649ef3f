import { spawn, spawnSync } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { expect, vi } from 'vitest'
import { main } from '../src/main.ts'

export const bin: string = fileURLToPath(new URL('../bin/zinc-referee.js', import.meta.url))
/** Where the command runs: a folder of its own, in which the project's packages are found. */
export const folder: string = mkdtempSync(join(tmpdir(), 'zinc-'))
symlinkSync(fileURLToPath(new URL('../../../node_modules', import.meta.url)), join(folder, 'node_modules'))

interface Ran {
  readonly status: number | null
  readonly stdout: string
  readonly stderr: string
}

/** What a run that was given bad input is like: exit code 2, and says why. */
export const badInput = (why: string): object => ({ status: 2, stderr: expect.stringContaining(why) })

/** Runs what is built, as a process of its own. */
export function runProcess(...args: string[]): Ran {
  return spawnSync(process.execPath, [bin, ...args], { cwd: folder, encoding: 'utf8' })
}

const STAYS = `
import { main } from ${JSON.stringify(new URL('../dist/main.js', import.meta.url).href)}
process.on('message', async (args) => {
  const said = { stdout: '', stderr: '' }
  for (const name of ['stdout', 'stderr'])
    process[name].write = (text) => { said[name] += text; return true }
  const status = await main(args)
  process.exitCode = undefined // a verb sets it
  process.send({ status, ...said })
})`
let stays: ReturnType<typeof spawn> | undefined

/** Runs what is built, one command after another in a process that stays: starting one for each took most of the time. */
export async function runBuilt(...args: string[]): Promise<Ran> {
  if (stays === undefined) {
    const stdio = ['ignore', 'ignore', 'inherit', 'ipc'] as const
    writeFileSync(join(folder, 'stays.mjs'), STAYS)
    stays = spawn(process.execPath, ['stays.mjs'], { cwd: folder, stdio: [...stdio] })
    stays.unref()
    stays.channel?.unref()
  }
  const { channel } = stays
  const over = new AbortController()
  const answer = once(stays, 'message', over)
  const gone = once(stays, 'exit', over).then(([code]) => {
    throw new Error(`the process that runs ${args.join(' ')} has ended with ${code}`)
  })
  gone.catch(() => undefined)
  channel?.ref()
  stays.send(args)
  try {
    return (await Promise.race([answer, gone]))[0]
  } finally {
    over.abort()
    channel?.unref()
  }
}

/** Runs the sources in this process, which is quicker, and seen by a mutation run. Files are named by their whole path. */
export async function run(...args: string[]): Promise<Ran> {
  const said = { stdout: '', stderr: '' }
  const spies = (['stdout', 'stderr'] as const).map((name) =>
    vi.spyOn(process[name], 'write').mockImplementation((text) => {
      said[name] += String(text)
      return true
    }),
  )
  try {
    return { status: await main(args), ...said }
  } finally {
    process.exitCode = undefined // a verb sets it
    for (const spy of spies) spy.mockRestore()
  }
}
