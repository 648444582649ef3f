/** The crews, by the number of their team. */
export const crews = ['Reed Crew', 'Mill Crew'] as const
