import { describe, expect, it } from 'vitest'
import { figure, inUnit, showEnergy, showJoules, showMinutes, toBase, type Unit } from './units'
import { countdown } from './useNow'

const unit = (per_base: number, reciprocal = false): Unit => ({
  key: 'u',
  quantity: 'speed',
  label: 'u',
  per_base,
  reciprocal,
  decimals: 1,
})

describe('figures as people read them', () => {
  it.each([
    [100, unit(60), 6000],
    [0.1, unit(25.4, true), 254],
  ])('turns %d into a unit and back', (base, to, shown) => {
    expect(inUnit(base, to)).toBeCloseTo(shown, 9)
    expect(toBase(shown, to)).toBeCloseTo(base, 9)
  })

  it('rounds as the quantity wants', () => {
    expect(figure(1.26, 1)).toBe('1.3')
    expect(showEnergy(1.234)).toBe('1.23 J/mm²')
    expect(showEnergy(12.34)).toBe('12.3 J/mm²')
    expect([showJoules(999.4), showJoules(1000), showJoules(205409)]).toEqual(['999 J', '1.0 kJ', '205.4 kJ'])
    expect([showMinutes(0.5), showMinutes(2.84), showMinutes(150)]).toEqual(['30 s', '2.8 min', '2.5 h'])
  })

  it('counts down and never below zero', () => {
    const now = Date.parse('2026-05-04T12:00:00Z')
    expect(countdown('2026-05-04T12:01:05Z', now)).toBe('1:05')
    expect(countdown('2026-05-04T14:05:00Z', now)).toBe('2 h 05 min')
    expect(countdown('2026-05-04T11:00:00Z', now)).toBe('0:00')
  })
})
