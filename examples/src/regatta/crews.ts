/** The crews by their team's number. */
export const crews = ['Reed Crew', 'Mill Crew'] as const
