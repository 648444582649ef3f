import { type CompiledRow, idFor, type PolicyRow, type RowReference, type Store } from '../rows/index.ts'
import { placeOf, seesRow } from './who-sees.ts'

type Texts = ReadonlyMap<string, string>
const none: Texts = new Map()

/**
 * Cells that name rows: a viewer gets the ids of those rows that it sees, and null or nothing for the others. What each
 * viewer was sent is remembered, since it changes when the other row does.
 */
export class NamedRows {
  private readonly store: Store
  private known: Map<CompiledRow, Map<string, Texts>> | undefined

  constructor(store: Store) {
    this.store = store
  }

  /** True if somebody may see a cell of this row that names rows. */
  concerns(row: CompiledRow): boolean {
    return row.$shape.facets.some(({ references }) => references.length > 0)
  }

  /** Returns what a viewer of these facets gets of such cells now. */
  texts(row: PolicyRow, facets: number, viewer: string): Texts {
    if (facets === 0 || !this.concerns(row)) return none
    const { each } = row.$shape
    const cells = row.$shape.facets.flatMap(({ references }, facet) =>
      facets & (1 << facet) ? references : [],
    )
    return new Map(
      each.flatMap(({ name, reference }) =>
        reference !== undefined && cells.includes(name)
          ? [[name, this.text(row, name, reference, viewer)]]
          : [],
      ),
    )
  }

  sentTo(row: CompiledRow, viewer: string): Texts {
    return this.known?.get(row)?.get(viewer) ?? none
  }

  noteSent(row: CompiledRow, viewer: string, texts: Texts): void {
    if (texts.size === 0) {
      const viewers = this.known?.get(row)
      viewers?.delete(viewer)
      if (viewers?.size === 0) this.known?.delete(row)
      return
    }
    this.known ??= new Map()
    if (this.known.get(row)?.set(viewer, texts) === undefined) this.known.set(row, new Map([[viewer, texts]]))
  }

  /** Called when a viewer has been sent the row in its whole view. */
  begin(row: PolicyRow, viewer: string): void {
    this.noteSent(row, viewer, this.texts(row, placeOf(row, viewer), viewer))
  }

  /** Rows that somebody was sent: another row's change may have changed what they name. */
  rows(): CompiledRow[] {
    return this.known === undefined ? [] : [...this.known.keys()]
  }

  shut(viewer: string): void {
    for (const row of this.rows()) this.noteSent(row, viewer, none)
  }

  private text(row: CompiledRow, cell: string, { table, text }: RowReference, viewer: string): string {
    return text(row.$kept(cell), (number) => {
      const named = this.store.tables.get(table)?.row(number)
      return named !== undefined && seesRow(named, viewer) ? idFor(named, viewer) : undefined
    })
  }
}
