import { existsSync, readFileSync } from 'node:fs'
import { dirname, relative, resolve } from 'node:path'

/** A place in a file, from 1. */
export interface Place {
  readonly file: string
  readonly line: number
}

/** The files of a mode: the one that is named, and what it imports from beside it. */
export class OwnSources {
  private readonly texts: Map<string, string> = new Map()

  constructor(file: string) {
    this.read(resolve(file))
  }

  private read(path: string): void {
    if (this.texts.has(path) || !existsSync(path)) return
    const text = readFileSync(path, 'utf8')
    this.texts.set(path, text)
    for (const [, near = ''] of text.matchAll(/\bfrom\s+['"](\.{1,2}\/[^'"]+)['"]/g))
      for (const end of ['', '.ts', '.js']) this.read(resolve(dirname(path), near + end))
  }

  /** True if a rule of this name is made here. */
  makes(rule: string): boolean {
    const name = new RegExp(`['"\`]${escaped(rule)}['"\`]`)
    return [...this.texts.values()].some((text) => name.test(text))
  }

  /** Where something of this name is declared, as far as one can tell from the text. */
  placeOf(name: string): Place | undefined {
    const key = new RegExp(`(?:^|[{,])\\s*(?:async\\s+)?['"\`]?${escaped(name)}['"\`]?\\s*[:(]`)
    for (const [path, text] of this.texts) {
      const at = text.split('\n').findIndex((line) => key.test(line))
      if (at !== -1) return { file: relative(process.cwd(), path), line: at + 1 }
    }
    return undefined
  }

  /** True if a file belongs to the mode. */
  has(path: string): boolean {
    return this.texts.has(path)
  }
}

const escaped = (text: string): string => text.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&')
