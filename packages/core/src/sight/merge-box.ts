import type { CompiledRow, RowShape } from '../rows/index.ts'
import { Outbox } from './outbox.ts'

/** The id of a row as it is written in a JSON text. */
export const keyText = (id: string): string => (/^[\w-]+$/.test(id) ? id : JSON.stringify(id).slice(1, -1))

/** A row's members in a merge patch, by the name that viewers know it by; nothing if none are sent. */
export function mergedRow(row: CompiledRow, name: number, members: string): string {
  if (members === '' || !row.$shape.keyed) return members
  return `,"${keyText(row.$idUnder(name))}":{${members.slice(1)}}`
}

/**
 * The cells of one flush of which only the latest counts, as a JSON Merge Patch (RFC 7396): parts come in their order,
 * and in each the rows in the order of the ids that viewers know.
 */
export class MergeBox {
  private parts: { readonly path: string; readonly box: Outbox }[] = []

  /** The box for the rows of a part. */
  part({ path }: RowShape): Outbox {
    const last = this.parts.at(-1)
    if (last?.path === path) return last.box
    const box = new Outbox()
    this.parts.push({ path, box })
    return box
  }

  /** Empties the box into a reader: the merge patch of one viewer as text, or nothing. Who sees the same gets the same string. */
  close(): (viewer: string) => string | undefined {
    const readers = this.parts.map(({ path, box }) => {
      const [, rule = '', part = ''] = path.split('/')
      return { rule, read: box.close(`"${part}":{`, '}') }
    })
    if (readers.length === 0) return () => undefined
    this.parts = []
    let last: readonly (string | undefined)[] = []
    let made: string | undefined
    return (viewer) => {
      const parts = readers.map(({ read }) => read(viewer))
      if (last.length === 0 || parts.some((part, at) => part !== last[at])) {
        last = parts
        made = whole(readers, parts)
      }
      return made
    }
  }
}

function whole(
  readers: readonly { readonly rule: string }[],
  parts: readonly (string | undefined)[],
): string | undefined {
  let text = ''
  let open: string | undefined
  for (const [at, { rule }] of readers.entries()) {
    const part = parts[at]
    if (part === undefined) continue
    text += rule === open ? `,${part}` : `${open === undefined ? '{' : '},'}"${rule}":{${part}`
    open = rule
  }
  return open === undefined ? undefined : `${text}}}`
}
