import { expect, test } from 'vitest'
import { readSpots } from './spots'

test('points count once both of their figures are typed', () => {
  expect(readSpots([['1', '2'], ['3,5', ' -4 '], ['', '']])).toEqual([[1, 2], [3.5, -4]]) // prettier-ignore
  expect(readSpots([['1', '2'], ['3', '']])).toBeNull() // prettier-ignore
  expect(readSpots([['1', 'x']])).toBeNull()
  expect(readSpots([['', '']])).toEqual([])
})
