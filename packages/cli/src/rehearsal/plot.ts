import { Resvg } from '@resvg/resvg-js'
import * as vega from 'vega'
import { compile, type TopLevelSpec } from 'vega-lite'
import type { Rehearsed } from './csv.ts'
import { sharesOf } from './shares-of.ts'

const FONT = 'DejaVu Sans, sans-serif'
/** How wide a picture is made, in pixels. */
const WIDE = 1280

/** Returns a picture of who wins, with 95 % confidence intervals: by name, or over the setting that was varied. */
export async function plotSvg(
  all: readonly Rehearsed[],
  title: string,
  setting: string | undefined,
): Promise<string> {
  const { spec } = compile(
    setting === undefined ? oneRehearsal(all, title) : overSetting(all, title, setting),
  )
  return new vega.View(vega.parse(spec), { renderer: 'none' }).toSVG()
}

/** Returns the same picture as PNG. */
export const pngOf = (svg: string): Uint8Array =>
  new Resvg(svg, {
    fitTo: { mode: 'width', value: WIDE },
    font: { defaultFontFamily: 'DejaVu Sans' },
    background: 'white',
  })
    .render()
    .asPng()

const pointsOf = (all: readonly Rehearsed[]) =>
  all.flatMap(({ value, went }) =>
    sharesOf(went).map(({ what, name, times, of, interval: [low, high] }) => ({
      value,
      name: what === 'win' ? name : what,
      what,
      share: of === 0 ? 0 : times / of,
      low,
      high,
      words: `${times} of ${of}`,
    })),
  )

const share = (field: string) => ({
  field,
  type: 'quantitative' as const,
  title: 'share, with its 95 % confidence interval',
  axis: { format: '.0%' },
  scale: { domain: [0, 1] },
})
const config = {
  font: FONT,
  view: { stroke: null },
  axis: { labelFontSize: 13, titleFontSize: 13, titleFontWeight: 'normal' as const, gridColor: '#ddd' },
  title: { fontSize: 16, anchor: 'start' as const },
}

function oneRehearsal(all: readonly Rehearsed[], title: string): TopLevelSpec {
  const name = { field: 'name', type: 'nominal' as const, sort: null, title: null }
  return {
    title: `${title}: who wins`,
    data: { values: pointsOf(all) },
    width: 620,
    height: { step: 34 },
    background: 'white',
    padding: 16,
    encoding: { y: name },
    layer: [
      {
        mark: { type: 'rule', strokeWidth: 2, color: '#333' },
        encoding: { x: share('low'), x2: { field: 'high' } },
      },
      {
        mark: { type: 'point', filled: true, size: 90, color: '#111', opacity: 1 },
        encoding: {
          x: share('share'),
          shape: { field: 'what', type: 'nominal', title: null, legend: null },
        },
      },
      {
        mark: { type: 'text', align: 'left', dx: 8, fontSize: 12 },
        encoding: { x: share('high'), text: { field: 'words' } },
      },
    ],
    config,
  }
}

/** A panel for each name, one beside the other: nothing has to be told apart by its colour. */
function overSetting(all: readonly Rehearsed[], title: string, setting: string): TopLevelSpec {
  const value = { field: 'value', type: 'ordinal' as const, sort: null, title: setting }
  return {
    title: `${title}: who wins, by ${setting}`,
    data: { values: pointsOf(all) },
    background: 'white',
    padding: 16,
    facet: { field: 'name', type: 'nominal', sort: null, title: null, header: { labelFontSize: 14 } },
    columns: 4,
    spec: {
      width: 180,
      height: 200,
      encoding: { x: value },
      layer: [
        {
          mark: { type: 'rule', strokeWidth: 2, color: '#333' },
          encoding: { y: { ...share('low'), title: 'share' }, y2: { field: 'high' } },
        },
        {
          mark: { type: 'line', color: '#777', strokeWidth: 1 },
          encoding: { y: { ...share('share'), title: 'share' } },
        },
        {
          mark: { type: 'point', filled: true, size: 70, color: '#111', opacity: 1 },
          encoding: { y: { ...share('share'), title: 'share' } },
        },
      ],
    },
    config,
  }
}
