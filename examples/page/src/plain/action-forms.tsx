import type { CellDescription, RulebookDescription } from 'zinc-referee'

interface Props {
  readonly rulebook: RulebookDescription
  readonly seats: readonly string[]
  readonly act: (action: string, input: object) => void
}

/** A form for each action, its fields made from the cells of its input. */
export function ActionForms({ rulebook, seats, act }: Props) {
  // A mode's own rules come last in its rulebook; here they come first.
  const actions = rulebook.rules.toReversed().flatMap(({ actions: each }) => each)
  return (
    <div class="actions">
      {actions.map(({ name, cells = {} }) => (
        <form
          key={name}
          onSubmit={(event) => {
            event.preventDefault()
            act(name, inputOf(event.currentTarget, cells))
          }}
        >
          {Object.entries(cells).map(([cell, how]) => (
            <Field key={cell} name={cell} cell={how} seats={seats} />
          ))}
          <button type="submit">{name}</button>
        </form>
      ))}
    </div>
  )
}

function Field({
  name,
  cell,
  seats,
}: {
  readonly name: string
  readonly cell: CellDescription
  readonly seats: readonly string[]
}) {
  const inner = cell.kind === 'maybe' ? cell.of : cell
  const values = inner?.kind === 'choice' ? inner.values : inner?.kind === 'seat' ? seats : undefined
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: each branch is the control
    <label>
      {name}
      {values !== undefined ? (
        <select name={name}>
          {cell.kind === 'maybe' && <option value="">none</option>}
          {values.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      ) : inner?.kind === 'flag' ? (
        <input name={name} type="checkbox" />
      ) : inner?.kind === 'text' ? (
        <input name={name} />
      ) : inner?.kind === 'list' ? (
        <input name={name} placeholder="one, two" />
      ) : (
        <input
          name={name}
          type="number"
          min={inner?.least}
          max={inner?.most}
          defaultValue={String(inner?.least ?? 0)}
        />
      )}
    </label>
  )
}

function inputOf(form: HTMLFormElement, cells: { readonly [cell: string]: CellDescription }): object {
  const data = new FormData(form)
  return Object.fromEntries(
    Object.entries(cells).map(([name, cell]) => [name, cellValue(data.get(name), cell)]),
  )
}

function cellValue(given: FormDataEntryValue | null, cell: CellDescription): unknown {
  const text = typeof given === 'string' ? given : ''
  if (cell.kind === 'flag') return given !== null
  if (cell.kind === 'maybe' && cell.of !== undefined) return text === '' ? null : cellValue(given, cell.of)
  if (cell.kind === 'list' && cell.of !== undefined)
    return text
      .split(',')
      .map((item) => item.trim())
      .filter(Boolean)
      .map((item) => cellValue(item, cell.of ?? cell))
  return cell.kind === 'text' || cell.kind === 'choice' || cell.kind === 'seat' ? text : Number(text)
}
