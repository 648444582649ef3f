import { useState } from 'preact/hooks'
import type { AnyView, RulebookDescription } from 'zinc-referee'
import { Fields, inputOf } from './fields.tsx'
import { isListed } from './use-legal.ts'

interface Props {
  readonly rulebook: Pick<RulebookDescription, 'rules'>
  readonly view: AnyView
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
export function ActionForms({ rulebook, view, legal, nameOf, act }: Props) {
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
          <Fields of={name} cells={cells} view={view} />
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
