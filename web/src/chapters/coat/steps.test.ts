import { expect, test } from 'vitest'
import type { Schema } from '../../api/client'
import { currentStep, stepsDone } from './steps'

type Plan = Schema<'CoatPlan'>

function plan(changes: { put_on?: boolean; mixed?: boolean; lots?: number } & Partial<Plan['drying']>): Plan {
  const { put_on = true, mixed = true, lots = 0, ...drying } = changes
  return {
    put_on,
    mixed,
    lots: Array.from({ length: lots }, () => ({})),
    drying: { coats_on: 0, all_on: false, ready: true, ...drying },
  } as unknown as Plan
}

test.each([
  ['a factory coat needs no hands', plan({ put_on: false, mixed: false }), 'choose'],
  ['first it is mixed', plan({}), 'mix'],
  ['what is laid on is not mixed', plan({ mixed: false }), 'apply'],
  ['a mixed lot is put on', plan({ lots: 1 }), 'apply'],
  ['a coat from an old jar counts as mixed', plan({ coats_on: 1 }), 'apply'],
  ['all on, it dries', plan({ lots: 1, coats_on: 2, all_on: true, ready: false }), 'dry'],
  ['dry, it is proven', plan({ lots: 1, coats_on: 2, all_on: true, ready: true }), 'prove'],
] as const)('%s', (_, facts, step) => {
  expect(currentStep(facts)).toBe(step)
})

test('ticks follow the facts', () => {
  expect(stepsDone(plan({}), null)).toEqual({
    choose: true,
    mix: false,
    apply: false,
    dry: false,
    prove: false,
  })
  const dry = plan({ lots: 1, coats_on: 2, all_on: true, ready: true })
  expect(Object.values(stepsDone(dry, 0.1)).every(Boolean)).toBe(true)
  expect(stepsDone(plan({ put_on: false, mixed: false }), null)).toMatchObject({ apply: true, dry: true })
})
