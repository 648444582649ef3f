import './seat-mark.css'

const SHAPES = ['circle', 'square', 'diamond', 'shield'] as const
const COLOURS = 8

/** A seat's colour and mark, so that nothing depends on colour alone. */
export function SeatMark({ number, name }: { readonly number: number; readonly name: string }) {
  const at = number - 1
  return (
    <span class={`mark ${SHAPES[at % SHAPES.length]} tone-${at % COLOURS}`} aria-hidden="true">
      <span>{[...name][0]?.toUpperCase() ?? '?'}</span>
    </span>
  )
}

const standings = { here: '', absent: 'away', left: 'has left' } as const

/** A seat in a table: its mark, its name, and whether a bot plays for it, or nobody does. */
export function SeatName({
  seat: { number, name, bot, presence },
}: {
  readonly seat: {
    readonly number: number
    readonly name: string
    readonly bot: boolean
    readonly presence: keyof typeof standings
  }
}) {
  return (
    <span class="name">
      <SeatMark number={number} name={name} />
      <span>
        {name} <small>{presence === 'here' && bot ? 'bot' : standings[presence]}</small>
      </span>
    </span>
  )
}

/** What a viewer may not see: a hatched blank of the same size, never an empty value. */
export function HiddenBlank({ what }: { readonly what: string }) {
  return (
    <span
      class="blank"
      role="img"
      aria-label={`${what}: hidden from this view`}
      title={`${what}: hidden from this view`}
    />
  )
}
