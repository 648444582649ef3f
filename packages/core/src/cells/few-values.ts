import type { AnyCell } from './cell.ts'

/** So many whole numbers can be listed. */
const MOST_NUMBERS = 100

/**
 * Returns all values of a cell that has few: those of a choice, yes and no, or whole numbers within bounds. Nothing for
 * others.
 */
export function fewValues({
  kind,
  values,
  least,
  most,
}: Pick<AnyCell, 'kind' | 'values' | 'least' | 'most'>): readonly unknown[] | undefined {
  if (kind === 'choice') return values
  if (kind === 'flag') return [true, false]
  return kind === 'int' && least !== undefined && most !== undefined && most - least < MOST_NUMBERS
    ? Array.from({ length: most - least + 1 }, (_, n) => least + n)
    : undefined
}
