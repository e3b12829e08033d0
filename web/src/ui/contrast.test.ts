import { readFileSync } from 'node:fs'
import { expect, test } from 'vitest'

/** WCAG 2.2: text at least 4.5 : 1 on its ground (1.4.3), lines of controls and marks at least 3 : 1 (1.4.11). */
const css = readFileSync('src/styles.css', 'utf8')

function tokens(theme: string): Record<string, string> {
  const block = css.match(new RegExp(`data-theme='${theme}'\\] \\{([^}]*)\\}`))?.[1] ?? ''
  return Object.fromEntries([...block.matchAll(/--([\w-]+): (#[0-9a-f]{6})/g)].map((m) => [m[1], m[2]]))
}

function luminance(hex: string): number {
  const parts = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255)
  const [r = 0, g = 0, b = 0] = parts.map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

function contrast(one: string, other: string): number {
  const [light = 0, dark = 0] = [luminance(one), luminance(other)].sort((a, b) => b - a)
  return (light + 0.05) / (dark + 0.05)
}

const TEXT: [string, string[]][] = [
  ['ink', ['paper', 'card', 'glaze-tint', 'frost-tint', 'ember-tint']],
  ['soft', ['paper', 'card', 'frost-tint', 'ember-tint']],
  ['on-glaze', ['glaze']],
  ['glaze', ['paper', 'card']],
  ['frost', ['card', 'frost-tint']],
  ['ember', ['card', 'ember-tint']],
]
const MARKS: [string, string[]][] = [
  ['glaze', ['paper', 'card', 'glaze-tint']],
  ['frost', ['paper', 'card']],
  ['ember', ['paper', 'card']],
]

test('black on white is 21 : 1, by definition', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21)
})

test.each(['light', 'dark'])('the %s theme can be read', (theme) => {
  const named = tokens(theme)
  expect(Object.keys(named).length).toBeGreaterThan(12)
  const weak = [
    ...TEXT.flatMap(([ink, grounds]) => grounds.map((ground) => [ink, ground, 4.5] as const)),
    ...MARKS.flatMap(([mark, grounds]) => grounds.map((ground) => [mark, ground, 3] as const)),
  ].filter(([a, b, least]) => contrast(named[a] ?? '', named[b] ?? '') < least)
  expect(weak).toEqual([])
})
