import { expect, test } from 'vitest'
import { isSame, merged, takenOver } from './draft'

const VALUES = [
  undefined,
  null,
  0,
  1,
  '',
  'a',
  [1],
  [1, 2],
  { x: 1 },
  { x: 2, y: 1 },
  { x: { z: 1 } },
  { x: { z: 2 } },
]

test('a merge keeps what one side changed, and asks only where both did, differently', () => {
  for (const base of VALUES)
    for (const theirs of VALUES)
      for (const mine of VALUES) {
        const wrap = (v: unknown) => ({ field: v, other: 1 })
        const { value, clashes } = merged(wrap(base), wrap(theirs), wrap(mine))
        if (isSame(mine, base)) expect(isSame(value, wrap(theirs))).toBe(true)
        if (isSame(theirs, base)) expect(isSame(value, wrap(mine))).toBe(true)
        if (isSame(mine, base) || isSame(theirs, base) || isSame(mine, theirs)) expect(clashes).toEqual([])
        // Whatever clashed is theirs once that is chosen; nothing that only they changed was lost.
        const taken = takenOver(value, wrap(theirs), clashes)
        expect(merged(wrap(base), wrap(theirs), taken).clashes).toEqual([])
        expect(value.other).toBe(1)
      }
})

test('changes inside one object meet only where they touch the same field', () => {
  const base = { place: { x: 0, y: 0 }, tone: 1 }
  const both = merged(base, { place: { x: 5, y: 0 }, tone: 1 }, { place: { x: 0, y: 7 }, tone: 2 })
  expect(both).toEqual({ value: { place: { x: 5, y: 7 }, tone: 2 }, clashes: [] })
  const clash = merged(base, { place: { x: 5, y: 0 }, tone: 1 }, { place: { x: 6, y: 0 }, tone: 1 })
  expect(clash.clashes).toEqual([['place', 'x']])
})
