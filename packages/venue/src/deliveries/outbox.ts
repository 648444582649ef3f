import { closeSync, existsSync, fsyncSync, openSync, readFileSync, renameSync, writeSync } from 'node:fs'
import { join } from 'node:path'
import type { HostClock } from 'zinc-referee/host'
import { type Log, placeOf } from '../log.ts'
import type { Verdict } from './verdict.ts'

/** Takes a verdict. What it throws means: not taken, try again. */
export type Deliver = (verdict: Verdict) => Promise<void> | void

const PRIVATE = 0o600
const [FIRST_WAIT, LONGEST_WAIT] = [1000, 300_000]

/** A line of its file: a verdict that is to be delivered, or the id of one that was taken. */
type Line = { readonly verdict: Verdict } | { readonly taken: string }

/**
 * Verdicts that are to be delivered. Each is on the disk before it is sent, and goes out again, with growing waits, until it
 * is taken: also after a crash. A crash between the two sends it twice, with the same id.
 */
export class Outbox {
  private readonly deliver: Deliver
  private readonly clock: HostClock
  private readonly log: Log
  private readonly waiting: Map<string, Verdict> = new Map()
  private readonly taken: Set<string> = new Set()
  private readonly callOffs: Map<string, () => void> = new Map()
  private readonly file: number | undefined
  private isTorn = false

  /** `folder`: where its file is; nothing if it is kept in memory alone. */
  constructor(folder: string | undefined, deliver: Deliver, clock: HostClock, log: Log) {
    this.deliver = deliver
    this.clock = clock
    this.log = log
    if (folder === undefined) return
    const path = join(folder, 'deliveries.jsonl')
    this.read(path)
    this.file = openSync(path, 'a', PRIVATE)
  }

  /** Sends what an earlier process left. */
  begin(): void {
    for (const verdict of this.waiting.values()) void this.send(verdict, 0)
  }

  /** Takes a verdict, once. */
  add(verdict: Verdict): void {
    if (this.taken.has(verdict.id) || this.waiting.has(verdict.id)) return
    this.waiting.set(verdict.id, verdict)
    this.keep(verdict)
  }

  /** On a full disk it is tried again: nothing is sent that a crash could undo. */
  private keep(verdict: Verdict): void {
    const { id, match } = verdict
    this.callOffs.delete(id)
    if (this.write({ verdict })) void this.send(verdict, 0)
    else {
      this.log.error({ match, verdict: id }, 'verdict not written')
      this.callOffs.set(
        id,
        this.clock.wakeAfter(FIRST_WAIT, () => this.keep(verdict)),
      )
    }
  }

  /** What is not taken yet stays for the next process. */
  close(): void {
    for (const callOff of this.callOffs.values()) callOff()
    if (this.file !== undefined) closeSync(this.file)
    this.waiting.clear()
  }

  private async send(verdict: Verdict, attempt: number): Promise<void> {
    const { id, match } = verdict
    try {
      await this.deliver(verdict)
    } catch (error) {
      this.log.warn({ match, verdict: id, ...placeOf(error) }, 'verdict not taken')
      if (!this.waiting.has(id)) return
      const wait = Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** attempt)
      this.callOffs.set(
        id,
        this.clock.wakeAfter(wait, () => void this.send(verdict, attempt + 1)),
      )
      return
    }
    if (!this.waiting.delete(id)) return
    this.callOffs.delete(id)
    this.taken.add(id)
    this.write({ taken: id })
    this.log.info({ match, verdict: id }, 'verdict taken')
  }

  /** Returns false if the disk did not take it. A line that was torn off ends before the next one begins. */
  private write(line: Line): boolean {
    if (this.file === undefined) return true
    try {
      writeSync(this.file, `${this.isTorn ? '\n' : ''}${JSON.stringify(line)}\n`)
      fsyncSync(this.file)
      this.isTorn = false
    } catch {
      this.isTorn = true
    }
    return !this.isTorn
  }

  /** Reads the file, and leaves out what was torn off and what was taken long ago. */
  private read(path: string): void {
    const lines = existsSync(path) ? readFileSync(path, 'utf8').split('\n').slice(0, -1) : []
    for (const text of lines) {
      const line = parsed(text)
      if (line === undefined) continue
      if ('verdict' in line) this.waiting.set(line.verdict.id, line.verdict)
      else {
        this.waiting.delete(line.taken)
        this.taken.add(line.taken)
      }
    }
    const kept: readonly Line[] = [
      ...[...this.taken].slice(-REMEMBERED).map((taken) => ({ taken })),
      ...[...this.waiting.values()].map((verdict) => ({ verdict })),
    ]
    const file = openSync(`${path}.new`, 'w', PRIVATE)
    writeSync(file, kept.map((line) => `${JSON.stringify(line)}\n`).join(''))
    fsyncSync(file)
    closeSync(file)
    renameSync(`${path}.new`, path)
  }
}

/** How many ids of verdicts that were taken are remembered. A match that goes on asks for its last one alone. */
const REMEMBERED = 20_000

/** Returns nothing for a line that was torn off. */
function parsed(text: string): Line | undefined {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
