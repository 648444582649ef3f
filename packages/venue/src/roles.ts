export const roles = ['player', 'watcher', 'reporter', 'referee', 'operator'] as const
/**
 * What the holder of an admission may do: play, watch, report what the game server has seen, direct the match, or begin
 * and end matches over HTTP.
 */
export type Role = (typeof roles)[number]
