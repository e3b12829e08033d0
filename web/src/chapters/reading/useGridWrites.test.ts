import { expect, test } from 'vitest'
import type { Schema } from '../../api/client'
import { withRatings } from './useGridWrites'

const cell = (code: string) => ({ code, power_pct: 40, rating: null, defects: [], version: 1 })
const grid = { id: 7, state: 'burned', rating_event: 0, label: 'G-01', cells: [cell('A1'), cell('A2')] }

test('a change of ratings leaves what was drawn and burned as it was', () => {
  const seen = {
    id: 7,
    state: 'rated',
    rating_event: 12,
    cells: [
      { code: 'A2', rating: 'harsh', defects: ['chips'], heard_snapping: true, strokes: null, version: 2 },
    ],
  }
  const changed = withRatings(grid as unknown as Schema<'GridOut'>, seen as Schema<'RatingsOut'>)
  expect(changed).toMatchObject({ state: 'rated', rating_event: 12, label: 'G-01' })
  expect(changed.cells[0]).toEqual(cell('A1'))
  expect(changed.cells[1]).toMatchObject({ power_pct: 40, rating: 'harsh', defects: ['chips'], version: 2 })
})
