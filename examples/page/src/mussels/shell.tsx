/** The sign that each kind bears inside, so that nothing depends on its colour alone. */
const SIGNS: { readonly [kind: string]: string } = {
  swan: 'M13 26q0 6 8 6q8 0 8-6q-4 2-7-1q-3-4-1-8q-4-2-5 2q1 5-3 7Z',
  duck: 'M13 25q3 6 9 6q7 0 7-6q-4 1-7-1q-1-5-5-5q-4 0-4 3l-3 1q1 2 3 2Z',
  river: 'M12 22q4-3 7 0t7 0t4 0M12 28q4-3 7 0t7 0t4 0',
  pearl: 'M21 20a5 5 0 1 0 .1 0Z',
  zebra: 'M14 20v11M18 18v14M22 18v14M26 19v12',
  pea: 'M15 26a3 3 0 1 0 .1 0ZM21 25a3 3 0 1 0 .1 0ZM27 26a3 3 0 1 0 .1 0Z',
  horse: 'M16 32q-3-8 2-12l4-2l2 3l4 3q-1 3-5 2q1 3 0 6Z',
  quilt: 'M14 20h12v12h-12ZM20 20v12M14 26h12',
}
const LINED: ReadonlySet<string> = new Set(['river', 'zebra', 'quilt'])

/** A mussel in the sand: shut with its growth rings, or open with the sign of its kind. */
export function Shell({ kind }: { readonly kind: string | undefined }) {
  if (kind === undefined)
    return (
      <svg class="shell shut" viewBox="0 0 42 40" aria-hidden="true">
        <path class="valve" d="M6 24Q6 8 24 5Q37 8 37 21Q36 34 21 36Q8 35 6 24Z" />
        <path class="ring" d="M11 25Q12 13 25 10M16 27Q17 18 27 15M21 29Q22 23 29 20M33 12Q34 26 22 32" />
      </svg>
    )
  return (
    <svg class="shell open" viewBox="0 0 42 40" aria-hidden="true">
      <path class="valve" d="M4 21Q8 4 26 3Q39 8 38 22Q34 37 19 37Q5 34 4 21Z" />
      <path class="nacre" d="M8 21Q11 8 25 7Q35 11 34 22Q31 33 20 33Q9 31 8 21Z" />
      <path class={LINED.has(kind) ? 'sign lined' : 'sign'} d={SIGNS[kind] ?? ''} />
    </svg>
  )
}
