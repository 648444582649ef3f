/** As far as names go, every mode's view is alike. */
interface Named {
  readonly roster: { readonly seats: { readonly [seat: string]: { readonly name: string } } }
}

export const nameIn = (view: Named, seat: string): string => view.roster.seats[seat]?.name ?? seat

/** The names of several seats as a person says them. */
export const namesIn = (view: Named, seats: readonly string[]): string =>
  seats.map((seat) => nameIn(view, seat)).join(' and ')
