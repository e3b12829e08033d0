import type { Schema } from '../../api/client'

type Item = Schema<'GateItemOut'>

/** What was ticked of the gate, by code: the way in which, what was asked for, or nothing more. */
export type Ticked = Record<string, string>

/** Whether a condition is answered as it asks to be. */
export function isAnswered(item: Item, ticked: Ticked): boolean {
  const answer = ticked[item.code]
  if (answer === undefined || item.blocked) return false
  if (item.ways.length) return item.ways.includes(answer)
  return !item.asks || answer.trim() !== ''
}

export const isWhole = (gate: Item[], ticked: Ticked) => gate.every((item) => isAnswered(item, ticked))

export const ticksOf = (ticked: Ticked): Schema<'GateTickIn'>[] =>
  Object.entries(ticked).map(([code, answer]) => ({ code, answer }))
