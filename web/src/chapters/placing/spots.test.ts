import { expect, test } from 'vitest'
import { readSpots, rowsOf } from './spots'

test('points count once both of their figures are typed', () => {
  expect(readSpots([['1', '2'], ['3,5', ' -4 '], ['', '']])).toEqual([[1, 2], [3.5, -4]]) // prettier-ignore
  expect(readSpots([['1', '2'], ['3', '']])).toBeNull() // prettier-ignore
  expect(readSpots([['1', 'x']])).toBeNull()
  expect(readSpots([['', '']])).toEqual([])
})

test('kept points are typed on, and empty rows wait for more', () => {
  expect(rowsOf([[1.5, -2]], 3)).toEqual([['1.5', '-2'], ['', ''], ['', '']]) // prettier-ignore
  expect(rowsOf([[1, 2], [3, 4]], 1)).toHaveLength(2) // prettier-ignore
})
