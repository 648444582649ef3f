import type { AnyCell } from './cell.ts'

/** Returns the row reference inside a cell, if there is one. */
export const rowCell = (cell: AnyCell): AnyCell | undefined =>
  cell.kind === 'row' ? cell : cell.of === undefined ? undefined : rowCell(cell.of)

/** Returns a table by its full name. Without a rule's name it belongs to that rule. */
export const tableOf = ({ table = '' }: AnyCell, rule: string): string =>
  table.includes('.') ? table : `${rule}.${table}`

/**
 * Returns a value of a cell with each of its innermost values replaced. If a replacement is nothing, the value is
 * left out of a list, set or map, unless that holds maybes; on its own, it becomes nothing.
 */
export function withEach(cell: AnyCell, value: unknown, replace: (innermost: unknown) => unknown): unknown {
  const { kind, of } = cell
  if (of === undefined) return replace(value)
  if (kind === 'maybe') return value === undefined ? undefined : withEach(of, value, replace)
  const isKept = (item: unknown): boolean => item !== undefined || of.kind === 'maybe'
  if (kind === 'list')
    return (value as readonly unknown[]).map((item) => withEach(of, item, replace)).filter(isKept)
  if (kind === 'set')
    return new Set(
      [...(value as ReadonlySet<unknown>)].map((item) => withEach(of, item, replace)).filter(isKept),
    )
  return new Map(
    [...(value as ReadonlyMap<string, unknown>)]
      .map(([key, item]) => [key, withEach(of, item, replace)] as const)
      .filter(([, item]) => isKept(item)),
  )
}
