/** Returns something that a seat may do now, as its view has it; nothing if that is nothing. */
export function anyMove(
  view: { readonly phases: { readonly now: { readonly phase: string } } },
  pick: <T>(all: readonly T[]) => T | undefined,
): { readonly action: string; readonly input: object } | undefined {
  const plain = { lobby: 'roster.ready', over: 'rounds.rematch' }[view.phases.now.phase]
  if (plain !== undefined) return { action: plain, input: {} }
  const offered = Object.entries(view).flatMap(([rule, parts]) => {
    const { options = {} } = Object(parts) as { options?: { readonly [action: string]: readonly object[] } }
    return Object.entries(options).flatMap(([action, inputs]) =>
      inputs.map((input) => ({ action: `${rule}.${action}`, input })),
    )
  })
  return pick(offered)
}
