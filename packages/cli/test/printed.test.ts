import { expect, test } from 'vitest'
import { folder, run } from './run.ts'

const commands: readonly string[] = [
  'demo reed-regatta --all --record regatta.jsonl',
  'demo mussel-dip --seats 4 --record mussels.jsonl',
  'demo lantern-market --with fog,moths --seed fair-2 --record market.jsonl',
  'demo spoiled-brew --record brew.jsonl',
  'view regatta.jsonl --seat otter --at 0:57',
  'view regatta.jsonl --seat server --at 5:00',
  'view mussels.jsonl --seat spectator --at 1:00',
  'view market.jsonl --seat server --at 0:40',
  'view mussels.jsonl --seat heron --at 1:30 --json',
  'replay market.jsonl',
  'describe lantern-market',
  'sights spoiled-brew',
  'sightcheck stepping-stones --checks 3 --workers 1',
  'sightcheck mussels.jsonl --checks 1 --steps 3 --workers 1 --json',
  'demo reed-regatta --seats 1',
  'view regatta.jsonl --seat oter --at 0:57',
]

/** Read the change in the diff; `npx vitest run --project cli -u` takes it over. */
test.each(commands)('zinc-referee %s', async (line) => {
  const args = line.split(' ').map((word) => (word.endsWith('.jsonl') ? `${folder}/${word}` : word))
  const { status, stdout, stderr } = await run(...args)
  if (line.startsWith('demo'))
    for (const each of stdout.split('\n').filter((text) => !text.includes('npx ')))
      expect(each.length).toBeLessThanOrEqual(80)
  const printed = `$ zinc-referee ${line}\n\n${stdout}${stderr}\nexit code ${status}\n`
    .replaceAll(`${folder}/`, '')
    .replace(/(?<=took +)\d+/, '…')
  await expect(printed).toMatchFileSnapshot(`printed/${line.replaceAll(/[^a-z0-9]+/g, '-')}.txt`)
})
