/**
 * Splits `total` whole units in proportion to whole amounts by the largest remainder (Hamilton's method): each exact
 * quota is rounded down, and the missing units go to the largest remainders. Ties go to the larger amount, then the
 * earlier place. If the amounts sum to 0, the list is empty.
 */
export function largestRemainder(amounts: readonly number[], total: number): number[] {
  const sum = amounts.reduce((all, each) => all + BigInt(each), 0n)
  if (sum === 0n) return []
  const quotas = amounts.map((amount, at) => {
    const exact = BigInt(amount) * BigInt(total)
    return { at, amount, floor: Number(exact / sum), rest: exact % sum }
  })
  let missing = total - quotas.reduce((all, { floor }) => all + floor, 0)
  const byRest = [...quotas].sort((a, b) =>
    a.rest === b.rest ? b.amount - a.amount || a.at - b.at : a.rest < b.rest ? 1 : -1,
  )
  const shares = quotas.map(({ floor }) => floor)
  for (const { at } of byRest) {
    if (missing === 0) break
    shares[at] = (shares[at] ?? 0) + 1
    missing--
  }
  return shares
}
