/** Small wordings that the steps of the coat share. */

export function minutesText(minutes: number): string {
  if (minutes < 1) return `${Math.round(minutes * 60)} s`
  if (minutes < 120) return `${Math.round(minutes)} min`
  return `${Number((minutes / 60).toFixed(1))} h`
}

export function spanText(low: number, plan: number, high: number): string {
  return low === high ? minutesText(plan) : `${minutesText(low)} to ${minutesText(high)}`
}

export function piecesText(first: number, last: number, all: number): string {
  if (first === 1 && last === all) return all === 1 ? 'the piece' : `all ${all} pieces`
  return first === last ? `piece ${first}` : `pieces ${first} to ${last}`
}

export function moneyText(amount: number | string, currency: string): string {
  const sum = Number(amount)
  return `${currency}${sum < 10 ? sum.toFixed(2) : sum.toFixed(0)}`
}

export const RISK = { low: 'low', middle: 'middling', high: 'high' } as const

export const HAZARD: Record<string, string> = {
  vapour: 'vapour burns',
  dust: 'dust',
  mist: 'spray mist',
  skin: 'skin',
  drain: 'not down the drain',
  heat_gun: 'warm air on glass',
  acid: 'keep from acid',
}
