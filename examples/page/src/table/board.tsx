import { type ComponentChildren, Fragment } from 'preact'
import './board.css'

/** What stands on a cell, and what choosing it does; a cell without that cannot be chosen. */
export interface BoardCell {
  readonly key: string
  /** What it is called where it cannot be seen. */
  readonly label: string
  readonly shows?: ComponentChildren
  readonly choose?: (() => void) | undefined
  /** What happened last happened here. */
  readonly isLast?: boolean
}

const moves: { readonly [key: string]: readonly [dx: number, dy: number] } = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

/** Rows of cells, each a button; arrow keys go on to the next one that way that can be chosen. */
export function Board({
  label,
  columns,
  cells,
  rows,
}: {
  readonly label: string
  readonly columns: number
  readonly cells: readonly BoardCell[]
  /** The names of the rows, where they have names. */
  readonly rows?: readonly string[]
}) {
  const move = (event: KeyboardEvent & { readonly currentTarget: Element }): void => {
    const way = moves[event.key]
    const buttons = [...event.currentTarget.querySelectorAll('button')]
    const from = buttons.findIndex((button) => button.matches(':focus'))
    if (way === undefined || from < 0) return
    event.preventDefault()
    nextThatWay(buttons, from, way, columns)?.focus()
  }
  return (
    // biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be a grid everywhere
    <div class="board" role="group" aria-label={label} style={{ '--columns': columns }} onKeyDown={move}>
      {cells.map(({ key, label: called, shows, choose, isLast = false }, at) => (
        <Fragment key={key}>
          {at % columns === 0 && rows !== undefined && <span class="row-name">{rows[at / columns]}</span>}
          <button
            type="button"
            class={isLast ? 'is-last' : undefined}
            aria-label={called}
            disabled={choose === undefined}
            onClick={choose}
          >
            {shows}
          </button>
        </Fragment>
      ))}
    </div>
  )
}

function nextThatWay(
  buttons: readonly HTMLButtonElement[],
  from: number,
  [dx, dy]: readonly [number, number],
  columns: number,
): HTMLButtonElement | undefined {
  for (let x = (from % columns) + dx, y = Math.floor(from / columns) + dy; ; x += dx, y += dy) {
    const button = x < 0 || x >= columns ? undefined : buttons[y * columns + x]
    if (button === undefined || !button.disabled) return button
  }
}
