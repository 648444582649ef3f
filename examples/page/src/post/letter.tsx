import './letter.css'

export interface Face {
  readonly colour: string
  readonly value: number
}
/** A letter: its colour as a stripe and a word, so that nothing depends on colour alone. */
export function Letter({ face: { colour, value } }: { readonly face: Face }) {
  return (
    <span class={`letter ${colour}`}>
      {colour} {value}
    </span>
  )
}

export const wordsOf = ({ colour, value }: Face): string => `${colour} ${value}`
