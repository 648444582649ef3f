import { type Hit, hits, SEATS } from './hits.js'
import { timed } from './measure.js'

interface Body {
  readonly id: string
  health: number
  down: boolean
  kills: number
  assists: number
  downs: number
  lastBy: Body | undefined
  otherBy: Body | undefined
  otherAt: number
  lastAt: number
}

/** The rule as one would write it by hand, with no engine: nothing can be taken back, shown or replayed. */
export class BareLoop {
  private readonly bodies: Map<string, Body> = new Map()
  /** All delays are equal, so the order of starting is the order of firing. */
  private readonly backs: { readonly due: number; readonly body: Body }[] = []

  constructor() {
    for (const id of SEATS)
      this.bodies.set(id, {
        id,
        health: 100,
        down: false,
        kills: 0,
        assists: 0,
        downs: 0,
        lastBy: undefined,
        otherBy: undefined,
        otherAt: 0,
        lastAt: 0,
      })
  }

  hit({ at, target, by, amount }: Hit): boolean {
    for (let next = this.backs[0]; next !== undefined && next.due <= at; next = this.backs[0]) {
      this.backs.shift()
      next.body.down = false
      next.body.health = 100
      next.body.lastBy = undefined
      next.body.otherBy = undefined
    }
    const body = this.bodies.get(target)
    const striker = this.bodies.get(by)
    if (body === undefined || striker === undefined || body === striker || body.down) return false
    const taken = Math.min(amount, body.health)
    body.health -= taken
    if (body.lastBy !== striker) {
      body.otherBy = body.lastBy
      body.otherAt = body.lastAt
    }
    body.lastBy = striker
    body.lastAt = at
    if (body.health > 0) return true
    body.down = true
    body.downs++
    striker.kills++
    if (body.otherBy !== undefined && at - body.otherAt < 10_000) body.otherBy.assists++
    this.backs.push({ due: at + 3000, body })
    return true
  }

  tally(): string {
    return JSON.stringify(
      [...this.bodies.values()].map(({ id, kills, assists, downs, health }) => [
        id,
        kills,
        assists,
        downs,
        health,
      ]),
    )
  }
}

const THOUSANDS = 20
const HITS = hits(THOUSANDS * 1000)

/** How long a thousand steps of the bare loop take, ms: what a time of a whole mode is compared with. */
export function bareThousand(): number {
  const loop = new BareLoop()
  return (
    timed(() => {
      for (const hit of HITS) loop.hit(hit)
    }) / THOUSANDS
  )
}
