import { useState } from 'preact/hooks'
import type { CellDescription, RulebookDescription } from 'zinc-referee'
import { isListed } from './use-legal.ts'

interface Props {
  readonly rulebook: Pick<RulebookDescription, 'rules'>
  readonly seats: readonly string[]
  /** What the seat can do now, by action, for those whose inputs can be listed. */
  readonly legal: { readonly [action: string]: readonly object[] }
  /** A seat or a row, as a person knows it. */
  readonly nameOf: (id: string) => string
  readonly act: (action: string, input: object) => void
}

/**
 * A form for each action that is legal now: a choice among its options. An action whose inputs cannot be listed has fields for
 * its input, and the venue says whether it is legal.
 */
export function ActionForms({ rulebook, seats, legal, nameOf, act }: Props) {
  // A mode's own rules come last in its rulebook; here they come first.
  const actions = rulebook.rules.toReversed().flatMap(({ actions: each }) => each)
  const listed = actions.filter((action) => isListed(action) && (legal[action.name]?.length ?? 0) > 0)
  const free = actions.filter((action) => !isListed(action))
  return (
    <div class="actions">
      {listed.length + free.length === 0 && <p class="mild">Nothing to do now.</p>}
      {listed.map(({ name }) => (
        <OfferForm key={name} name={name} options={inOrder(legal[name] ?? [])} nameOf={nameOf} act={act} />
      ))}
      {free.map(({ name, cells = {} }) => (
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

/** Numbers as numbers, all else as texts. */
const inOrder = (options: readonly object[]): readonly object[] =>
  options.toSorted((a, b) => {
    const [one, other] = [Object.values(a), Object.values(b)]
    for (const [at, value] of one.entries()) {
      const than: unknown = other[at]
      if (value === than) continue
      return typeof value === 'number' && typeof than === 'number'
        ? value - than
        : String(value).localeCompare(String(than), 'en', { numeric: true })
    }
    return 0
  })

function OfferForm({
  name,
  options,
  nameOf,
  act,
}: {
  readonly name: string
  readonly options: readonly object[]
  readonly nameOf: Props['nameOf']
  readonly act: Props['act']
}) {
  const [chosen, choose] = useState(0)
  const at = Math.min(chosen, Math.max(0, options.length - 1))
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        act(name, options[at] ?? {})
      }}
    >
      {options.some((option) => Object.keys(option).length > 0) && (
        <label>
          of {options.length}
          <select value={at} onChange={(event) => choose(Number(event.currentTarget.value))}>
            {options.map((option, each) => (
              <option key={JSON.stringify(option)} value={each}>
                {optionText(option, nameOf)}
              </option>
            ))}
          </select>
        </label>
      )}
      <button type="submit" disabled={options.length === 0}>
        {name}
      </button>
    </form>
  )
}

const optionText = (option: object, nameOf: Props['nameOf']): string =>
  Object.entries(option)
    .map(
      ([cell, value]) =>
        `${cell} ${
          [value]
            .flat()
            .map((each) => nameOf(String(each)))
            .join(' and ') || 'none'
        }`,
    )
    .join(', ')

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
