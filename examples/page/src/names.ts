/** As far as names go, every mode's view is alike. */
interface Named {
  readonly roster: { readonly seats: { readonly [seat: string]: { readonly name: string } } }
}

export const nameIn = (view: Named, seat: string): string => view.roster.seats[seat]?.name ?? seat

/** The names of several seats as a person says them. */
export const namesIn = (view: Named, seats: readonly string[]): string =>
  seats.map((seat) => nameIn(view, seat)).join(' and ')

/** Who has won, for modes in which seats win. */
export function outcomeOf(
  view: Named & {
    readonly verdict: { readonly end: { readonly kind: string | null; readonly winners: readonly string[] } }
  },
): string {
  const { kind, winners } = view.verdict.end
  if (kind === 'win') return `${namesIn(view, winners)} wins`
  return kind === 'draw' ? `A draw of ${namesIn(view, winners)}` : 'Nobody wins'
}

/** A number of things: "1 wick", "2 wicks". */
export const counted = (n: number, thing: string): string => `${n} ${thing}${n === 1 ? '' : 's'}`
