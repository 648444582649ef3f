import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { columns, pairs, strong } from '../print/output.ts'
import type { Sample } from './client.ts'
import type { Load, Measured } from './run.ts'

/** Returns the value that a part of the samples stay within, in ms. */
export function percentile(samples: readonly Sample[], part: number): number {
  if (samples.length === 0) return 0
  const sorted = Float64Array.from(samples, ({ took }) => took).sort()
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))] ?? 0
}

const ms = (value: number): string => value.toFixed(1)
const kB = (bytes: number): string => `${(bytes / 1000).toFixed(0)} kB`
const perAction = ({ cpu, sent }: Measured): number => (cpu * 1000) / sent

/** Returns what was measured, as text. */
export function reportText(load: Load, venue: Measured, bare: Measured | undefined): string {
  const sockets = load.matches * load.seats
  const row = (name: string, samples: readonly Sample[]): readonly string[] => [
    name,
    String(samples.length),
    ...[0.5, 0.95, 0.99, 1].map((part) => ms(percentile(samples, part))),
  ]
  const each = (total: number): string => `${(total / sockets / (venue.took / 1000)).toFixed(0)} bytes`
  return [
    strong(`${load.matches} regattas, ${sockets} seats, actions a second of each: ${load.rate}`),
    columns(
      ['in ms', 'count', 'p50', 'p95', 'p99', 'most'],
      [row('action → ruling', venue.rulings), row('report → notice', venue.notices)],
    ),
    pairs([
      ['calls', `${venue.sent}   refused ${venue.refused}   lost ${venue.lost}`],
      ['bytes', `${each(venue.bytes)} a second to each seat`],
      [
        'processor',
        `${((venue.cpu / venue.took) * 100).toFixed(0)} % of a core   ${perAction(venue).toFixed(0)} µs a call`,
      ],
      [
        'memory',
        `${(venue.memory / 1e6).toFixed(0)} MB   ${kB((venue.memory - venue.memoryBefore) / load.matches)} a match with its sockets`,
      ],
      ...(bare === undefined
        ? []
        : [
            [
              'bare',
              `${perAction(bare).toFixed(0)} µs a call by a bare WebSocket server with the same frames   ${(perAction(venue) / perAction(bare)).toFixed(2)} times as much here   p99 ${ms(percentile(bare.rulings, 0.99))} ms`,
            ] as const,
          ]),
    ]),
  ].join('\n\n')
}

/** Returns a page with a plot of the percentiles of each second. */
export function plotPage(load: Load, venue: Measured): string {
  const folder = createRequire(import.meta.url)
    .resolve('uplot/package.json')
    .replace('package.json', 'dist/')
  const began = venue.rulings[0]?.at ?? 0
  const seconds = Array.from({ length: Math.max(1, Math.floor(venue.took / 1000)) }, (_, second) =>
    venue.rulings.filter(({ at }) => Math.floor((at - began) / 1000) === second),
  )
  const data = [
    seconds.map((_, second) => second),
    ...[0.5, 0.95, 0.99].map((part) =>
      seconds.map((samples) => Number(percentile(samples, part).toFixed(2))),
    ),
  ]
  const title = `Action to ruling, in ms: ${load.matches} regattas of ${load.seats} seats, actions a second of each seat: ${load.rate}`
  const series = [
    ['p50', '#2a6f97'],
    ['p95', '#8a6d1d'],
    ['p99', '#a23b3b'],
  ].map(([label, stroke]) => ({ label, stroke, width: 2 }))
  const options = {
    title,
    width: 1200,
    height: 640,
    scales: { x: { time: false } },
    series: [{ label: 'second' }, ...series],
    axes: [{ label: 'second' }, { label: 'ms' }],
  }
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>${title}</title>
<style>${readFileSync(`${folder}uPlot.min.css`, 'utf8')} body { font-family: system-ui, sans-serif; margin: 32px }</style>
<body><script>${readFileSync(`${folder}uPlot.iife.min.js`, 'utf8')}
new uPlot(${JSON.stringify(options)}, ${JSON.stringify(data)}, document.body)</script></body></html>
`
}
