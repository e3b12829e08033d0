import { expect, test } from 'vitest'
import { filmColour } from './filmScale'

const light = ([r, g, b]: number[]) => 0.2126 * (r ?? 0) + 0.7152 * (g ?? 0) + 0.0722 * (b ?? 0)

test('thin is blue, thick is orange, both darken steadily away from even', () => {
  const thin = [0.95, 0.8, 0.6, 0.4, 0.1].map(filmColour)
  const thick = [1.05, 1.2, 1.4, 1.7, 3].map(filmColour)
  for (const side of [thin, thick])
    side.slice(1).forEach((colour, i) => expect(light(colour)).toBeLessThanOrEqual(light(side[i] ?? [])))
  thin.forEach(([r, , b]) => expect(b).toBeGreaterThanOrEqual(r))
  thick.forEach(([r, , b]) => expect(r).toBeGreaterThan(b))
})
