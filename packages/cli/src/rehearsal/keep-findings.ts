import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { AnyRulebook } from 'zinc-referee'
import { type Finding, shortenFinding } from 'zinc-referee/testing'

/** A finding whose record lies in a file. */
export interface KeptFinding extends Omit<Finding, 'record'> {
  /** The path of its record, as short as it could be made. */
  readonly record: string
  /** Number of inputs of the match in which it was found, and of the record in the file. */
  readonly inputs: { readonly before: number; readonly now: number }
  readonly explained: string | undefined
}

/** Records of so many findings are kept: who has more has enough to do. */
const MOST = 8

/** Shortens the records of findings, and writes them into a folder, which is made if it is not there. */
export function keepFindings(
  book: AnyRulebook,
  findings: readonly Finding[],
  folder: string,
): readonly KeptFinding[] {
  if (findings.length > 0) mkdirSync(folder, { recursive: true })
  return findings.slice(0, MOST).map((finding, at) => {
    const { record, ...kept } = shortenFinding(book, finding)
    const path = join(folder, `${book.name}-${at + 1}-${finding.kind}.jsonl`)
    writeFileSync(path, `${record}\n`)
    return { ...kept, record: path }
  })
}
