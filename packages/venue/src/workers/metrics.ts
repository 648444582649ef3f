/** Returns the OpenMetrics of several workers as one text: each sample with a label that says whose it is. */
export function togetherMetrics(texts: readonly (readonly [worker: number, text: string])[]): string {
  /** By name, what is said of a metric once, and its samples. */
  const families = new Map<string, { readonly about: string[]; readonly samples: string[] }>()
  for (const [worker, text] of texts) {
    let family = { about: [] as string[], samples: [] as string[] }
    for (const line of text.split('\n')) {
      const [, about] = /^# (?:HELP|TYPE|UNIT) (\S+)/.exec(line) ?? []
      if (about !== undefined) {
        family = families.get(about) ?? family
        if (!families.has(about)) {
          family = { about: [], samples: [] }
          families.set(about, family)
        }
        if (!family.about.includes(line)) family.about.push(line)
      } else if (line !== '' && !line.startsWith('#')) family.samples.push(labelled(line, worker))
    }
  }
  return `${[...families.values()].flatMap(({ about, samples }) => [...about, ...samples]).join('\n')}\n# EOF\n`
}

const labelled = (sample: string, worker: number): string =>
  sample.replace(
    /^([^\s{]+)(?:\{(.*?)\})?(?= )/,
    (_, name: string, labels = '') => `${name}{worker="${worker}"${labels === '' ? '' : `,${labels}`}}`,
  )
