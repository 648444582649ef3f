import { InvalidInput, type Parsed } from '../cells/index.ts'
import type { Engine } from '../engine/index.ts'
import type { FactPlan } from '../plan/index.ts'
import { allowed, type Ruling, refuse, type Tags } from '../rule/index.ts'
import { type ReportOptions, tagged } from './input-tags.ts'
import { refuseInput } from './parsed-input.ts'

type Record = (rulings: readonly Ruling[]) => void

/** Decides a fact: one that happened a while ago, if the fact allows for that long. */
export function decideFact(engine: Engine, plan: FactPlan, parsed: Parsed, how?: ReportOptions): Ruling {
  const tags = tagged(how)
  return how?.at === undefined
    ? engine.decide(plan, undefined, parsed, tags)
    : asOf(engine, plan, how.at, () => engine.decide(plan, undefined, parsed, tags))
}

/** Decides several facts as one step. Calls `record` with the rulings before the step is kept. */
export function decideFacts(
  engine: Engine,
  plan: FactPlan,
  parsed: readonly Parsed[],
  how: ReportOptions,
  record: Record,
): readonly Ruling[] {
  const tags = tagged(how)
  if (how.at === undefined) return decideTogether(engine, plan, parsed, tags, record)
  let rulings: readonly Ruling[] = []
  const early = asOf(engine, plan, how.at, () => {
    rulings = decideTogether(engine, plan, parsed, tags, record)
    return allowed
  })
  return early.ok ? rulings : parsed.map(() => early)
}

/** Decides as of an earlier time, which may be as long ago as the fact allows. */
function asOf(engine: Engine, plan: FactPlan, at: number, decide: () => Ruling): Ruling {
  const { time } = engine
  if (!Number.isSafeInteger(at) || at < 0 || at > time.now)
    return refuse('bad-input', { issues: [`'at' must be a whole number from 0 to ${time.now}, not ${at}`] })
  if (time.now - at > plan.late) return refuse('stale', { at, oldest: Math.max(0, time.now - plan.late) })
  time.late = time.now - at
  try {
    return decide()
  } finally {
    time.late = 0
  }
}

function decideTogether(
  engine: Engine,
  plan: FactPlan,
  parsed: readonly Parsed[],
  tags: Tags | undefined,
  record: Record,
): readonly Ruling[] {
  const rulings: Ruling[] = []
  engine.onKeep = () => record(rulings)
  const whole = engine.step(plan.name, () => {
    for (const each of parsed) {
      const ruling =
        each instanceof InvalidInput
          ? refuseInput(each)
          : engine.attempt(() => engine.decideNow(plan, undefined, each, tags))
      rulings.push(ruling.ok ? allowed : ruling)
    }
    return rulings.some(({ ok }) => ok) ? undefined : rulings[0]
  })
  return whole.ok ||
    (rulings.every(({ ok }) => !ok) && rulings.length === parsed.length && whole.code !== 'fault')
    ? rulings
    : parsed.map(() => whole)
}
