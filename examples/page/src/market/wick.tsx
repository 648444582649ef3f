/** A wick or a lantern by its colour, which is written too. */
export function Wick({ colour }: { readonly colour: string | undefined }) {
  return <span class={`wick ${colour ?? ''}`}>{colour ?? 'hidden'}</span>
}
