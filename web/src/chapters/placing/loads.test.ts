import { expect, test } from 'vitest'
import { asQuery } from '../../api/query'
import { loadsText, timeText } from './loads'

const load = (first_piece: number, last_piece: number) => ({ first_piece, last_piece })

test('loads are told in words, a long row of them cut short', () => {
  expect(loadsText([])).toBe('')
  expect(loadsText([load(1, 8)])).toBe('All 8 pieces lie in it at once, piece 1 in pocket 1.')
  expect(loadsText([load(1, 8), load(9, 12)])).toBe('2 loads: 1 to 8, 9 to 12; each begins in pocket 1.')
  const many = Array.from({ length: 9 }, (_, n) => load(10 * n + 1, 10 * n + 10))
  expect(loadsText(many)).toBe(
    '9 loads: 1 to 10, 11 to 20, 21 to 30, 31 to 40, 41 to 50, … 81 to 90; each begins in pocket 1.',
  )
})

test('times are rounded to what matters', () => {
  expect([40, 89.6, 240, 5399, 5400].map(timeText)).toEqual(['40 s', '90 s', '4 min', '90 min', '1.5 h'])
})

test('what is not told does not reach the address', () => {
  expect(asQuery({ play_mm: 0.4, hole_deg: null, across: false, kerf_mm: undefined })).toBe(
    'play_mm=0.4&across=false',
  )
})
