import { useMemo, useState } from 'preact/hooks'
import { type Leaves, leavesOf } from './leaves.ts'
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
  const now = viewers.map((viewer) => leavesOf(viewer.at(position)))
  const before = viewers.map((viewer) => leavesOf(viewer.at(position - 1)))
  const paths = useMemo(() => [...new Set(now.flatMap((leaves) => [...leaves.keys()]))], now)
  const hasChanged = (path: string): boolean =>
    now.some((leaves, at) => textOf(leaves.get(path)) !== textOf(before[at]?.get(path)))
  const changed = paths.filter(hasChanged)
  const words = filter.toLowerCase().split(/\s+/).filter(Boolean)
  const found =
    words.length === 0 ? [] : paths.filter((path) => words.every((word) => path.toLowerCase().includes(word)))
  const groups = [...new Set(paths.map((path) => path.split('.')[0] ?? ''))].reverse()
  const part = (of: readonly string[]) => <Rows paths={of} now={now} changed={changed} ask={ask} />
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
        {words.length > 0 ? (
          part(found)
        ) : (
          <>
            <tbody>
              <tr>
                <th colSpan={viewers.length + 1} class="group">
                  changed at this moment
                  {viewers.length > 0 && changed.length === 0 ? ': nothing that is seen' : ''}
                </th>
              </tr>
            </tbody>
            {part(changed)}
          </>
        )}
      </table>
      {words.length === 0 &&
        groups.map((rule) => (
          <Group key={rule} rule={rule} columns={viewers.length}>
            {() => part(paths.filter((path) => path.startsWith(`${rule}.`)))}
          </Group>
        ))}
    </section>
  )
}

/** The cells of a rule; they are drawn when it is opened. */
function Group({
  rule,
  children,
}: {
  readonly rule: string
  readonly columns: number
  readonly children: () => preact.JSX.Element
}) {
  const [isOpen, open] = useState(false)
  return (
    <details onToggle={(event) => open(event.currentTarget.open)}>
      <summary>{rule}</summary>
      {isOpen && <table>{children()}</table>}
    </details>
  )
}

function Rows({
  paths,
  now,
  changed,
  ask,
}: {
  readonly paths: readonly string[]
  readonly now: readonly Leaves[]
  readonly changed: readonly string[]
  readonly ask: Props['ask']
}) {
  return (
    <tbody>
      {paths.slice(0, MOST).map((path) => (
        <tr key={path} class={changed.includes(path) ? 'changed' : ''}>
          <th scope="row">
            <button type="button" onClick={() => ask(path)}>
              {path}
            </button>
          </th>
          {now.map((leaves, at) => (
            <Value key={at} leaves={leaves} path={path} />
          ))}
        </tr>
      ))}
      {paths.length > MOST && (
        <tr>
          <td colSpan={now.length + 1}>
            <small>{paths.length - MOST} more: find them by name</small>
          </td>
        </tr>
      )}
    </tbody>
  )
}

/** A value, or a hatched blank where a viewer is not shown it. */
function Value({ leaves, path }: { readonly leaves: Leaves; readonly path: string }) {
  if (!leaves.has(path))
    return (
      <td>
        <span class="hatched" role="img" aria-label="hidden" title="hidden" />
      </td>
    )
  const text = textOf(leaves.get(path))
  return <td title={text}>{text.length > 40 ? `${text.slice(0, 39)}…` : text}</td>
}

const textOf = (value: unknown): string => (value === null ? '–' : (JSON.stringify(value) ?? ''))
