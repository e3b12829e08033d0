import { describe, expect, it } from 'vitest'
import { neighbour, nextUnrated } from './cellWalk'

const cells = ['A1', 'A2', 'B1', 'B2'].map((code, i) => ({
  code,
  row: Math.floor(i / 2),
  column: i % 2,
  rating: code === 'A2' ? ('clean' as const) : null,
  burned: 'full',
}))

describe('walking through a grid', () => {
  it('goes to the neighbour and stays at the edge', () => {
    const [a1] = cells
    if (!a1) throw new Error('no cell')
    expect(neighbour(cells, a1, 1, 0)).toBe('B1')
    expect(neighbour(cells, a1, -1, 0)).toBe('A1')
  })

  it('finds the next cell without a rating, round to the start', () => {
    expect(nextUnrated(cells, 'A1')).toBe('B1')
    expect(nextUnrated(cells, 'B2')).toBe('A1')
    expect(nextUnrated(cells, null)).toBe('A1')
    expect(nextUnrated([], null)).toBeNull()
    expect(
      nextUnrated(
        cells.map((c) => ({ ...c, rating: 'harsh' as const })),
        'A1',
      ),
    ).toBeNull()
  })

  it('passes over cells that the burn never reached', () => {
    const broken = cells.map((c) => (c.code === 'B1' ? { ...c, burned: 'none' } : c))
    expect(nextUnrated(broken, 'A1')).toBe('B2')
  })
})
