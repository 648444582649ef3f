import type { AnyView } from 'zinc-referee'

/** What a row that an option names shows of itself: its first word, such as a card's face; else the id. */
export function rowName(view: AnyView, id: string): string {
  for (const parts of Object.values(view))
    for (const rows of Object.values(Object(parts))) {
      if (typeof rows !== 'object' || rows === null || !Object.hasOwn(rows, id)) continue
      const words = Object.values(Object(Reflect.get(rows, id))).flatMap((cell) =>
        typeof cell === 'string' ? [cell] : Array.isArray(cell) ? [cell.join(' ')] : [],
      )
      if (words[0] !== undefined) return words[0]
    }
  return id
}
