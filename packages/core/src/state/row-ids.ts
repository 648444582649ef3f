import type { CompiledRow } from './row-class.ts'

/** Makes the text of a row's id, the same whenever it is asked for. */
export interface IdMaker {
  text(table: number, row: number, name: number): string
}

const MAX_KEPT = 16

/** The public ids of one row, kept by name. Most rows have one; a viewer that has kept sight may know an older one. */
export class RowIds {
  private name = -1
  private text = ''
  private others: Map<number, string> | undefined

  of(row: CompiledRow, name: number): string {
    if (this.name === name) return this.text
    const known = this.others?.get(name)
    if (known !== undefined) return known
    const id = row.$store.ids.text(row.$shape.tag, row.$number, name)
    if (this.name < 0) {
      this.name = name
      this.text = id
    } else {
      this.others ??= new Map()
      if (this.others.size >= MAX_KEPT) this.others.clear()
      this.others.set(name, id)
    }
    return id
  }
}
