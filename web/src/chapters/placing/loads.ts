import type { Schema } from '../../api/client'

/** How the batch comes in loads, in words. */
export function loadsText(loads: Schema<'LoadOut'>[]) {
  const last = loads.at(-1)
  if (!last) return ''
  if (loads.length === 1) return `All ${last.last_piece} pieces lie in it at once, piece 1 in pocket 1.`
  const each = loads.map((load) => `${load.first_piece} to ${load.last_piece}`)
  const shown = each.length > 6 ? [...each.slice(0, 5), `… ${each.at(-1)}`] : each
  return `${loads.length} loads: ${shown.join(', ')}; each begins in pocket 1.`
}

/** Seconds as makers say them: 40 s, 4 min, 1.5 h. */
export function timeText(seconds: number) {
  if (seconds < 90) return `${Math.round(seconds)} s`
  return seconds < 5400 ? `${Math.round(seconds / 60)} min` : `${(seconds / 3600).toFixed(1)} h`
}
