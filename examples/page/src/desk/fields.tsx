import type { AnyView, CellDescription } from 'zinc-referee'
import { choicesIn } from './choices.ts'

type Cells = { readonly [cell: string]: CellDescription }

/** A field for each cell of an input, by its name: `rule.input`. */
export function Fields({
  of,
  cells,
  view,
}: {
  readonly of: string
  readonly cells: Cells
  readonly view: AnyView
}) {
  const [rule = ''] = of.split('.')
  return Object.entries(cells).map(([name, cell]) => (
    <Field key={name} name={name} cell={cell} rule={rule} view={view} />
  ))
}

function Field({
  name,
  cell,
  rule,
  view,
}: {
  readonly name: string
  readonly cell: CellDescription
  readonly rule: string
  readonly view: AnyView
}) {
  const inner = cell.kind === 'maybe' ? cell.of : cell
  const choices = choicesIn(view, rule, inner)
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: each branch is the control
    <label>
      {name}
      {choices !== undefined ? (
        <select name={name}>
          {!needed(cell) && <option value="">none</option>}
          {choices.map(({ value, says }) => (
            <option key={value} value={value}>
              {says}
            </option>
          ))}
        </select>
      ) : inner?.kind === 'flag' ? (
        <input name={name} type="checkbox" />
      ) : inner?.kind === 'list' ? (
        <input name={name} placeholder="one, two" />
      ) : isNumber(inner) ? (
        <input
          name={name}
          type="number"
          min={inner?.least}
          max={inner?.most}
          required={needed(cell)}
          defaultValue={needed(cell) ? String(Math.max(0, inner?.least ?? 0)) : ''}
        />
      ) : (
        <input name={name} required={needed(cell)} />
      )}
    </label>
  )
}

const isNumber = (cell: CellDescription | undefined): boolean => cell?.kind === 'int' || cell?.kind === 'time'

/** False for a field that may stay empty: then the input does not have it, and its rule takes the default. */
const needed = ({ kind, required }: CellDescription): boolean => kind !== 'maybe' && required === true

/** The input that a form holds. */
export function inputOf(form: HTMLFormElement, cells: Cells): object {
  const data = new FormData(form)
  return Object.fromEntries(
    Object.entries(cells).flatMap(([name, cell]) => {
      const given = data.get(name)
      const isLeftOut = given === '' && !needed(cell) && cell.kind !== 'list'
      return isLeftOut ? [] : [[name, cellValue(given, cell)]]
    }),
  )
}

function cellValue(given: FormDataEntryValue | null, cell: CellDescription): unknown {
  const text = typeof given === 'string' ? given : ''
  const { kind, of = cell } = cell
  if (kind === 'flag') return given !== null
  if (kind === 'maybe') return cellValue(given, of)
  if (kind !== 'list') return isNumber(cell) ? Number(text) : text
  const items = text.split(',').map((item) => item.trim())
  return items.filter(Boolean).map((item) => cellValue(item, of))
}
