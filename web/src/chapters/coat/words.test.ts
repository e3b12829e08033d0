import { expect, test } from 'vitest'
import { minutesText, moneyText, piecesText, spanText } from './words'

test('times read as people say them', () => {
  expect([0.5, 35, 119.6, 150, 1440].map(minutesText)).toEqual(['30 s', '35 min', '120 min', '2.5 h', '24 h'])
  expect(spanText(15, 20, 40)).toBe('15 min to 40 min')
  expect(spanText(20, 20, 20)).toBe('20 min')
})

test('pieces are named by their run', () => {
  expect(piecesText(1, 8, 8)).toBe('all 8 pieces')
  expect(piecesText(1, 1, 1)).toBe('the piece')
  expect(piecesText(3, 3, 8)).toBe('piece 3')
  expect(piecesText(3, 6, 8)).toBe('pieces 3 to 6')
})

test('small sums keep their cents', () => {
  expect(moneyText('0.46', '€')).toBe('€0.46')
  expect(moneyText(43.4, '€')).toBe('€43')
})
