import { renderToStaticMarkup } from 'react-dom/server'
import { MemoryRouter } from 'react-router'
import { expect, test } from 'vitest'
import type { Schema } from '../api/client'
import { DryingLine } from './DryingLine'
import { dryingBars } from './dryingBars'
import { FilmMap } from './FilmMap'
import { StrokePicture } from './StrokePicture'
import { ArmsPicture } from './ArmsPicture'
import { LayerSection } from './LayerSection'
import { PieceOutline } from './PieceOutline'

/** Drawings take plain data: whatever it is, no figure in them may come out as NaN, infinite or undefined. */
function markup(node: React.ReactNode): string {
  const drawn = renderToStaticMarkup(<MemoryRouter>{node}</MemoryRouter>)
  expect(drawn).not.toMatch(/NaN|Infinity|undefined/)
  return drawn
}

const NOON = Date.parse('2026-05-04T12:00:00Z')
const iso = (minutes: number) => new Date(NOON + 60_000 * minutes).toISOString()

function group(changes: Partial<Schema<'GroupOut'>>): Schema<'GroupOut'> {
  return {
    first: 1,
    last: 8,
    coats_on: 1,
    coats_planned: 2,
    put_on_at: iso(-20),
    next_at: iso(15),
    earliest_at: iso(5),
    latest_at: iso(40),
    ready: false,
    seen_dry: false,
    ...changes,
  }
}

const job = (groups: Schema<'GroupOut'>[]) =>
  ({
    id: 3,
    name: 'Trail markers, fern walk',
    coat_label: 'glue-water',
    drying: { groups },
  }) as unknown as Schema<'JobOut'>

test.each([
  ['nothing at all', []],
  ['one that dries', [group({})]],
  ['one that is due', [group({ next_at: iso(-3), ready: true })]],
  ['one put on this moment', [group({ put_on_at: iso(0), next_at: iso(0), earliest_at: iso(0) })]],
  [
    'one that takes a day',
    [group({}), group({ first: 9, last: 9, next_at: iso(1500), latest_at: iso(1500) })],
  ],
])('the drying line draws %s', (_, groups) => {
  const bars = dryingBars([job(groups)])
  const turns = [{ job_id: 3, job: 'x', first: 1, last: 8, number: 2, start: iso(15), end: iso(25) }]
  const drawn = markup(<DryingLine bars={bars} turns={groups.length ? turns : []} now={NOON} />)
  expect(drawn.match(/<rect/g)?.length ?? 0).toBe(groups.length ? 2 * bars.length + 1 : 0)
  if (groups.some((g) => g.ready)) expect(drawn).toContain('due now')
})

const reading = (changes: Partial<Schema<'ReadingOut'>>): Schema<'ReadingOut'> => ({
  frame: 'corners',
  width_mm: 90,
  height_mm: 60,
  way: 'through',
  reference: 'bare_shot',
  mean_signal: 1.5,
  blind_share: 0,
  trust: 1,
  faults: [],
  streaks: { direction_deg: 0, spacing_mm: 0, depth: 0, coherence: 0 },
  squares: [[1, 1.2, null]],
  ...changes,
})

test('the film map names its faults by letter as well as by colour', () => {
  const kinds = ['thin', 'bare', 'pooled', 'pinhole', 'crack', 'shine'] as const
  const faults = kinds.map((kind, n) => ({
    kind,
    x_mm: 8 * n,
    y_mm: 5,
    width_mm: 4,
    height_mm: 3,
    area_mm2: 12,
    film: 0.5,
  }))
  const drawn = markup(<FilmMap reading={reading({ faults })} photoId={1} />)
  for (const words of ['T thin', 'B nearly bare', 'P pooled', '○ pinhole', 'C crack', 'S shine'])
    expect(drawn).toContain(words)
  expect(markup(<FilmMap reading={reading({ squares: [] })} photoId={1} />)).toContain('No single place')
  expect(markup(<FilmMap reading={reading({ frame: 'rim', height_mm: 90 })} photoId={1} />)).toContain(
    'rounded-full',
  )
})

test.each(['brush', 'spray', 'wipe', 'lay'])('strokes of %s are drawn and spoken', (motion) => {
  for (const degrees of [0, 90])
    expect(markup(<StrokePicture degrees={degrees} motion={motion} label="foam brush" />)).toContain(
      `foam brush, strokes at ${degrees} degrees`,
    )
})

test('coats are compared on one line, rated or not', () => {
  const arm = (cells: number, share: number) =>
    ({
      label: `${cells}`,
      cells,
      share,
      low: Math.max(0, share - 0.2),
      high: 1,
    }) as unknown as Schema<'ArmOut'>
  const drawn = markup(<ArmsPicture arms={[arm(8, 0.5), arm(0, 0), arm(12, 1)]} />)
  expect(drawn.match(/<rect/g)?.length).toBe(2)
  markup(<ArmsPicture arms={[]} />)
})

test.each(['rectangle', 'disc', 'cylinder', 'frustum'] as const)(
  'a %s is drawn whatever is typed',
  (shape) => {
    for (const size of [100, 5, 0, -3])
      markup(
        <PieceOutline
          piece={{ shape, width_mm: size, height_mm: size, narrow_mm: size / 2, margin_mm: 3 }}
        />,
      )
  },
)

test('layers are drawn from one coat to fifty', () => {
  for (const coats of [1, 2, 6, 50])
    expect(
      markup(
        <LayerSection
          job={{
            thickness_mm: 4,
            substrate_label: 'glass',
            coat_label: 'tempera',
            coat_colour: 'black',
            layer_um: 20 * coats,
            coats,
          }}
        />,
      ),
    ).toContain(`about ${20 * coats} µm`)
})
