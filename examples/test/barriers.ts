import axe from 'axe-core'
import type { Page } from 'playwright-core'

/** What a checker finds on a page that keeps somebody out. */
export async function barriersOf(tab: Page): Promise<readonly string[]> {
  await tab.evaluate(axe.source)
  const found: axe.AxeResults = await tab.evaluate('axe.run()')
  return found.violations.map(({ id, nodes }) => `${id}: ${nodes[0]?.html}`)
}
