import { SeatMark } from '../seat-mark.tsx'

/** A lantern that hangs on its rope, in its colour; whose it is says the mark in its light. */
export function Lantern({
  colour,
  seat,
}: {
  readonly colour: string
  readonly seat: { readonly number: number; readonly name: string } | undefined
}) {
  return (
    <span class={`lantern ${colour}`}>
      <svg viewBox="0 0 40 52" aria-hidden="true">
        <path class="rope" d="M20 0V9" />
        <path class="paper" d="M12 9H28L34 20V36L28 46H12L6 36V20Z" />
        <path class="rib" d="M12 9H28M12 46H28M6 20H34M6 36H34" />
      </svg>
      {seat !== undefined && <SeatMark {...seat} />}
    </span>
  )
}
