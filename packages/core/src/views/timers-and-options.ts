import { type Audience, editMembers, noViewers, reaches, SERVER, type Seat } from '../cells/index.ts'
import type { Engine } from '../engine/index.ts'
import { canonicalJson } from '../kit/index.ts'
import type { ActionPlan, InViews, TimerPlan } from '../plan/index.ts'

/** Members of a view besides a rule's state, by path, as JSON texts. */
type Members = ReadonlyMap<string, string>
type Extra = ReadonlyMap<string, Members>
const nothing: Extra = new Map()
const none: Members = new Map()

/**
 * Visible timers, under `view.rule.timers`, a seat's options of offered actions, under `view.rule.options`, and settings
 * that are shown, under `view.rule.settings`. All are computed again when the match has moved on, and sent as changes.
 */
export class TimersAndOptions {
  private readonly engine: Engine
  private readonly shown: InViews
  private sent: Map<string, Extra> | undefined
  private seen = ''

  constructor(engine: Engine) {
    this.engine = engine
    this.shown = engine.plan.inViews
  }

  private get isEmpty(): boolean {
    const { timers, offered, settings } = this.shown
    return timers.size + offered.size + settings.size === 0
  }

  /** True if the match has moved on since the last call. Always false if there is nothing to send. */
  haveChanged(): boolean {
    if (this.isEmpty) return false
    const now = `${this.engine.steps} ${this.shown.offered.size > 0 ? this.engine.time.now : ''}`
    if (now === this.seen) return false
    this.seen = now
    return true
  }

  /** The members of a rule's view for these, each beginning with its name. */
  texts(viewer: string, rule: string): string[] {
    const { settings, timers, offered } = this.shown
    const running = timers
      .get(rule)
      ?.map((timer) => `"${timer.name}":${object(this.timersOf(timer, viewer))}`)
    const options = this.hasOptions(viewer) ? offered.get(rule) : undefined
    return [
      ...(settings.has(rule) ? [`"settings":${object(this.settingsOf(rule))}`] : []),
      ...(running ? [`"timers":{${running.join(',')}}`] : []),
      ...(options ? [`"options":${object(this.optionsOf(options, viewer))}`] : []),
    ]
  }

  /** Called when a viewer has been sent all of it in its whole view. */
  begin(viewer: string): void {
    if (!this.isEmpty) this.keep(viewer, this.now(viewer))
  }

  shut(viewer: string): void {
    this.sent?.delete(viewer)
  }

  /** Operations from what a viewer was sent to what it may see now, each beginning with a comma. */
  operations(viewer: string): string {
    const before = this.sent?.get(viewer) ?? nothing
    const now = this.now(viewer)
    this.keep(viewer, now)
    return [...now].map(([path, members]) => editMembers(path, before.get(path) ?? none, members)).join('')
  }

  private keep(viewer: string, extra: Extra): void {
    this.sent ??= new Map()
    this.sent.set(viewer, extra)
  }

  private now(viewer: string): Extra {
    const { settings, timers, offered } = this.shown
    const now = new Map<string, Members>()
    for (const [rule, own] of timers)
      for (const timer of own) now.set(`/${rule}/timers/${timer.name}`, this.timersOf(timer, viewer))
    for (const rule of settings.keys()) now.set(`/${rule}/settings`, this.settingsOf(rule))
    if (this.hasOptions(viewer))
      for (const [rule, plans] of offered) now.set(`/${rule}/options`, this.optionsOf(plans, viewer))
    return now
  }

  private settingsOf(rule: string): Members {
    const all: { readonly [setting: string]: unknown } = Object(this.engine.settings[rule])
    return new Map(this.shown.settings.get(rule)?.map((name) => [name, canonicalJson(all[name])]))
  }

  /** By key, when it is due in the time of its clock. The key is the seat that owns it, where one does. */
  private timersOf(plan: TimerPlan, viewer: string): Members {
    const running = this.engine.time.running(plan.slot)
    const seen = running.filter(({ key }) => viewer === SERVER || reaches(this.audience(plan, key), viewer))
    // A row's key is the id that the viewer knows. By their keys: the order in which they were started could tell what
    // may not be known.
    const shown = seen.flatMap(({ key, due }) => {
      const isAsItIs = viewer === SERVER || plan.keyedBy === 'text'
      const known = isAsItIs ? key : this.engine.shownTo(viewer, key)
      return known === null ? [] : ([[String(known), String(due)]] as const)
    })
    return new Map(shown.sort(([a], [b]) => (a < b ? -1 : 1)))
  }

  /** A rule may decide which sides there are. While it throws, nobody sees the timer. */
  private audience({ sights, owner, name, keyedBy }: TimerPlan, key: string): Audience {
    const { engine } = this
    const seat = keyedBy === 'seat' ? key : undefined
    return engine.ask('sight', `${engine.plan.rules[owner]?.name} timer ${name} seenBy`, noViewers, () =>
      engine.sights.audience(sights, seat, owner),
    )
  }

  private hasOptions(viewer: string): boolean {
    return this.shown.offered.size > 0 && this.engine.seating.has(viewer)
  }

  /** By action of one rule. */
  private optionsOf(plans: readonly ActionPlan[], seat: Seat): Members {
    return new Map(
      plans.map((plan) => [plan.name.slice(plan.name.indexOf('.') + 1), this.optionText(plan, seat)]),
    )
  }

  /** In the order of their texts, which tells nothing. */
  private optionText(plan: ActionPlan, seat: Seat): string {
    const { seating } = this.engine
    const options = seating.isGone(seat) ? [] : this.engine.options.of(plan, seat, {})
    return `[${options.map(canonicalJson).sort().join(',')}]`
  }
}

const object = (members: Members): string =>
  `{${[...members].map(([key, text]) => `${JSON.stringify(key)}:${text}`).join(',')}}`
