import type { Entry } from '../use-match.ts'

/** How the desk at this address enters: `?desk=MATCH&name=NAME#admission=TOKEN`. What is behind # is not sent for the page. */
export function deskEntry(): Entry | 'door' | undefined {
  const asked = new URLSearchParams(location.search)
  const match = asked.get('desk')
  if (match === null) return undefined
  if (match === '') return 'door'
  const admission = new URLSearchParams(location.hash.slice(1)).get('admission')
  return {
    match,
    watch: 'spectator',
    name: asked.get('name') ?? 'Referee',
    ...(admission === null ? {} : { admission }),
  }
}
