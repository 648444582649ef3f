import type { Place } from '../modes/own-sources.ts'

/** A finding with its place. */
export interface Located {
  readonly kind: string
  readonly name: string
  readonly says: string
  readonly fix: string
  readonly place?: Place | undefined
}

/** Findings as SARIF 2.1.0, which servers for continuous integration show beside the code. */
export const sarifOf = (
  findings: readonly Located[],
  kinds: { readonly [kind: string]: string },
): object => ({
  $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
  version: '2.1.0',
  runs: [
    {
      tool: {
        driver: {
          name: 'zinc-referee check',
          rules: Object.entries(kinds).map(([id, text]) => ({ id, shortDescription: { text } })),
        },
      },
      results: findings.map(({ kind, name, says, fix, place }) => ({
        ruleId: kind,
        level: kind === 'fault' ? 'error' : 'warning',
        message: { text: `${name}: ${says} ${fix}` },
        ...(place && {
          locations: [
            {
              physicalLocation: {
                artifactLocation: { uri: place.file.replaceAll('\\', '/') },
                region: { startLine: place.line },
              },
            },
          ],
        }),
      })),
    },
  ],
})
