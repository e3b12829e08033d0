import { expect, test } from 'vitest'
import type { Schema } from '../api/client'
import { dryingBars, horizon } from './dryingBars'

const group = (first: number, last: number, coats_on: number, ready: boolean): Schema<'GroupOut'> => ({
  first,
  last,
  coats_on,
  coats_planned: 2,
  put_on_at: coats_on ? '2026-05-04T12:00:00Z' : null,
  next_at: coats_on ? '2026-05-04T12:30:00Z' : null,
  earliest_at: null,
  latest_at: null,
  ready,
  seen_dry: false,
})

test('one long wait does not squeeze the short ones', () => {
  expect(horizon([60, 50, 40])).toBe(60)
  expect(horizon([1200, 60, 40])).toBe(120)
  expect(horizon([1200])).toBe(1200)
  expect(horizon([])).toBe(0)
})

test('bare pieces and pieces that may be burned have no bar', () => {
  const groups = [group(1, 4, 2, true), group(5, 8, 1, true), group(9, 10, 2, false), group(11, 12, 0, true)]
  const job = { id: 7, name: 'Trail markers', coat_label: 'glue-water', drying: { groups } }
  const bars = dryingBars([job as unknown as Schema<'JobOut'>])
  expect(bars.map((bar) => [bar.key, bar.pieces])).toEqual([
    ['7-5', '5–8'],
    ['7-9', '9–10'],
  ])
})
