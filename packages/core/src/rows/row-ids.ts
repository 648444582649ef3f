import { flat } from '../kit/index.ts'
import type { CompiledRow } from './row.ts'

const MAX_KEPT = 16
/** Names whose ids are made at once: a row that was renamed is often renamed again. */
const AT_ONCE = 8

/** The public ids of one row with its paths, kept by name. Most rows have one; who has kept sight may know an older one. */
export class RowIds {
  private name = -1
  private first = ''
  private path = ''
  private others: Map<number, string> | undefined

  of(row: CompiledRow, name: number): string {
    if (this.name === name) return this.first
    const known = this.others?.get(name)
    if (known !== undefined) return known
    const { path, tag } = row.$shape
    const make = (each: number): string => row.$store.ids.text(tag, row.$number, each)
    if (this.name < 0) {
      this.name = name
      this.first = make(name)
      this.path = flat(`${path}/${this.first}`)
      return this.first
    }
    this.others ??= new Map()
    if (this.others.size >= MAX_KEPT) this.others.clear()
    const from = name - (name % AT_ONCE)
    for (let each = from; each < from + AT_ONCE; each++) this.others.set(each, make(each))
    return this.others.get(name) as string
  }

  pathOf(row: CompiledRow, name: number): string {
    const id = this.of(row, name)
    return this.name === name ? this.path : `${row.$shape.path}/${id}`
  }
}
