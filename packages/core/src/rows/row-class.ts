import type { RowPlan, RowShape } from './row.ts'
import { closureRow } from './row-closures.ts'
import { rowLayout } from './row-layout.ts'
import { generatedRow } from './row-source.ts'

/**
 * Makes the class of a part's rows: accessors with undo and dirty marks, and the text of its operations. It runs once
 * per rulebook, never per match, so that all matches share one shape. Where code may not be generated, the class is
 * built from closures and behaves the same.
 */
export function compileRow(plan: RowPlan, generated: boolean): RowShape {
  const layout = rowLayout(plan)
  const RowOf = generated ? generatedRow(layout) : closureRow(layout)
  const shape: RowShape = { ...layout, RowOf }
  Object.defineProperty(RowOf.prototype, '$shape', { value: shape })
  return shape
}
