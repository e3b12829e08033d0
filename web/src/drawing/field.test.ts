import { describe, expect, it } from 'vitest'
import { diagonals, logTicks, regions } from './field'

describe('the field of the window map', () => {
  it('draws one-two-five diagonals inside the plane only', () => {
    expect(diagonals(0.3, 6)).toEqual([0.5, 1, 2, 5])
    expect(logTicks(10, 1000, 4).length).toBeLessThanOrEqual(4)
  })

  it('puts the half-share edge where the share is a half', () => {
    const speeds = [1, 2, 4, 8, 16]
    const powers = [1, 10, 100]
    const share = powers.map(() => [0, 0.25, 0.5, 0.75, 1])
    const [path = ''] = regions(share, [0.5], { speeds, powers, x: Math.log2, y: Math.log10 })
    const xs = [...path.matchAll(/[ML](-?[\d.]+) /g)].map((m) => Number(m[1]))
    expect(Math.min(...xs)).toBeCloseTo(2, 1)
    expect(Math.max(...xs)).toBeGreaterThanOrEqual(4)
  })
})
