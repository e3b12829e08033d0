import type { Schema } from '../../api/client'

/** How a piece is lit for its photo. */
export const HOW = {
  through: {
    title: 'Photograph it against the light',
    how: 'Hold the coated piece against a bright, even field: a white screen, or an overcast sky in the window.',
  },
  inside: {
    title: 'Photograph its side, lit from inside',
    how: 'Put a frosted lamp into the coated piece in a dark room and photograph its side, square on. The middle of the wall is measured; turn it and photograph again for the rest.',
  },
  back: {
    title: 'Photograph it in flat light',
    how: 'Lay the coated piece in flat, even light, away from lamps that throw a glare.',
  },
} as const

export function wayOf(proof: Schema<'ProofOut'>): keyof typeof HOW {
  if (proof.way !== 'through') return 'back'
  return proof.frame === 'side' ? 'inside' : 'through'
}
