import './letter.css'

export interface Face {
  readonly colour: string
  readonly value: number
}

/** What is printed on a stamp of each colour, so that nothing depends on colour alone. */
const STAMPS: { readonly [colour: string]: string } = {
  rust: 'M38 15l4-7l4 7Z',
  moss: 'M42 7v9M42 11l-4-3M42 13l4-3',
  dusk: 'M45 8a4.5 4.5 0 1 0 0 7a3.6 3.6 0 0 1 0-7Z',
  chalk: 'M38 8h8M38 11.5h8M38 15h8',
  plum: 'M42 8a4 4 0 1 0 .1 0Z',
}

/** A letter: an envelope with the stamp of its colour and its value. */
export function Letter({ face: { colour, value } }: { readonly face: Face }) {
  return (
    <span class={`letter ${colour}`}>
      <svg viewBox="0 0 52 34" aria-hidden="true">
        <rect class="paper" x="1" y="1" width="50" height="32" rx="2" />
        <path class="flap" d="M1 33L20 17M51 33L32 17M2 2L26 20L50 2" />
        <rect class="stamp" x="35" y="4" width="14" height="15" />
        <path class="print" d={STAMPS[colour] ?? ''} />
        <text x="12" y="17">
          {value}
        </text>
      </svg>
      <span>
        {colour} {value}
      </span>
    </span>
  )
}

export const wordsOf = ({ colour, value }: Face): string => `${colour} ${value}`
