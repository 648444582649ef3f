interface Props {
  /** A flower on it says that it is to be joined, by this seat if it has a mark. */
  readonly lit: boolean
  readonly mark?: string
  /** Only the viewer to whom you compare yourself knows that it is to be joined. */
  readonly isTheirs?: boolean
}

/** A lily leaf. */
export function Lily({ lit, mark = '', isTheirs = false }: Props) {
  return (
    <svg class={lit ? 'lily lit' : 'lily'} viewBox="0 0 40 40" aria-hidden="true">
      <path class="leaf" d="M20 20 36 13A17 17 0 1 0 36 27Z" />
      <path class="vein" d="M20 20 8 10M20 20 5 20M20 20 8 30M20 20 20 5M20 20 20 35" />
      {lit && (
        <path
          class="flower"
          d="M20 9q4 5 0 11q-4-6 0-11M31 20q-5 4-11 0q6-4 11 0M20 31q-4-5 0-11q4 6 0 11M9 20q5-4 11 0q-6 4-11 0"
        />
      )}
      {isTheirs && <circle class="only-theirs-ring" cx="20" cy="20" r="18" />}
      {mark !== '' && (
        <text x="20" y="25" class="mark-text">
          {mark}
        </text>
      )}
    </svg>
  )
}
