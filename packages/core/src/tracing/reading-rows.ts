import type { CompiledRow, RowShape } from '../rows/index.ts'

/** Called with each cell that is read. */
export type Reader = (row: CompiledRow, cell: string, value: unknown) => void

const readers: WeakMap<object, Reader> = new WeakMap()
const made: WeakMap<RowShape, RowShape> = new WeakMap()

/** From now on, the reader hears of each cell that is read of a traced row of this store. */
export function tellReads(store: object, reader: Reader): void {
  readers.set(store, reader)
}

/** The reader hears no more of this store: for those who only want to know what was done. */
export function keepReads(store: object): void {
  readers.delete(store)
}

/** The shape of the same rows, which tell what is read of them. */
export function readingShape(shape: RowShape): RowShape {
  const known = made.get(shape)
  if (known !== undefined) return known
  const Row = shape.RowOf
  const Reading = class extends Row {}
  const reading: RowShape = { ...shape, RowOf: Reading }
  Object.defineProperty(Reading.prototype, '$shape', { value: reading })
  for (const { name } of shape.each) {
    const { get, set } = Object.getOwnPropertyDescriptor(Row.prototype, name) ?? {}
    Object.defineProperty(Reading.prototype, name, {
      get(this: CompiledRow) {
        const value: unknown = get?.call(this)
        readers.get(this.$store)?.(this, name, value)
        return value
      },
      set(this: CompiledRow, value: unknown) {
        set?.call(this, value)
      },
    })
  }
  made.set(shape, reading)
  return reading
}
