import { useState } from 'preact/hooks'
import { cellsOf, changedIn, type Leaves, textOf } from './leaves.ts'
import type { SeenBy } from './views.ts'

/** So many cells of a group are shown; a filter finds the others. */
const MOST = 60

interface Props {
  /** The server, then two others. */
  readonly viewers: readonly SeenBy[]
  readonly position: number
  readonly ask: (question: string) => void
}

/** What the server knew beside what two viewers saw. What changed at this moment comes first. */
export function Cells({ viewers, position, ask }: Props) {
  const [filter, setFilter] = useState('')
  const views = viewers.map((viewer) => viewer.at(position))
  const changed = [...new Set(viewers.flatMap((viewer, at) => changedIn(viewer.at(position - 1), views[at])))]
  const rules = Object.keys(views[0] ?? {}).reverse()
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean)
  const has = (path: string): boolean => words.every((word) => path.toLowerCase().includes(word))
  const found = words.length === 0 ? changed : rules.flatMap((rule) => pathsOf(views, rule)).filter(has)
  const rows = (paths: readonly string[]) => <Rows paths={paths} views={views} changed={changed} ask={ask} />
  return (
    <section class="cells" aria-labelledby="known">
      <h2 id="known">What was known</h2>
      <label>
        Find a cell
        <input
          value={filter}
          placeholder="otter health"
          onInput={(event) => setFilter(event.currentTarget.value)}
        />
      </label>
      <table>
        <caption>
          {words.length > 0
            ? `${found.length} found`
            : `changed at this moment${viewers.length > 0 && changed.length === 0 ? ': nothing that is seen' : ''}`}
        </caption>
        <thead>
          <tr>
            <th scope="col">cell</th>
            {viewers.map(({ viewer }) => (
              <th key={viewer} scope="col">
                {viewer}
              </th>
            ))}
          </tr>
        </thead>
        {rows(found)}
      </table>
      {words.length === 0 &&
        rules.map((rule) => <Group key={rule} rule={rule} table={() => rows(pathsOf(views, rule))} />)}
    </section>
  )
}

const pathsOf = (views: readonly (object | undefined)[], rule: string): readonly string[] => [
  ...new Set(views.flatMap((view) => [...cellsOf(view, rule).keys()])),
]

/** The cells of a rule; they are drawn when it is opened. */
function Group({ rule, table }: { readonly rule: string; readonly table: () => preact.JSX.Element }) {
  const [isOpen, open] = useState(false)
  return (
    <details onToggle={(event) => open(event.currentTarget.open)}>
      <summary>{rule}</summary>
      {isOpen && <table>{table()}</table>}
    </details>
  )
}

function Rows({
  paths,
  views,
  changed,
  ask,
}: {
  readonly paths: readonly string[]
  readonly views: readonly (object | undefined)[]
  readonly changed: readonly string[]
  readonly ask: Props['ask']
}) {
  const shown = paths.slice(0, MOST)
  const rules = new Set(shown.map((path) => path.split('.')[0] ?? ''))
  const leaves = views.map((view) => new Map([...rules].map((rule) => [rule, cellsOf(view, rule)] as const)))
  return (
    <tbody>
      {shown.map((path) => (
        <tr key={path} class={changed.includes(path) ? 'changed' : ''}>
          <th scope="row">
            <button type="button" onClick={() => ask(path)}>
              {path}
            </button>
          </th>
          {leaves.map((of, at) => (
            <Value key={at} leaves={of.get(path.split('.')[0] ?? '')} path={path} />
          ))}
        </tr>
      ))}
      {paths.length > MOST && (
        <tr>
          <td colSpan={views.length + 1}>
            <small>{paths.length - MOST} more: find them by name</small>
          </td>
        </tr>
      )}
    </tbody>
  )
}

/** A value, or a hatched blank where a viewer is not shown it. */
function Value({ leaves, path }: { readonly leaves: Leaves | undefined; readonly path: string }) {
  if (leaves?.has(path) !== true)
    return (
      <td>
        <span class="hatched" role="img" aria-label="hidden" title="hidden" />
      </td>
    )
  const text = textOf(leaves.get(path))
  return <td title={text}>{text.length > 40 ? `${text.slice(0, 39)}…` : text}</td>
}
