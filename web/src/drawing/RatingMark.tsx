import type { Schema } from '../api/client'

export type Rating = NonNullable<Schema<'CellOut'>['rating']>

/** A rating by shape as well as colour: ring, block, cross. Drawn in an SVG around (x, y). */
export function RatingMark({
  rating,
  x,
  y,
  size = 6,
}: {
  rating: Rating
  x: number
  y: number
  size?: number
}) {
  if (rating === 'faint')
    return <circle cx={x} cy={y} r={size} className="fill-card stroke-frost" strokeWidth={size / 2.6} />
  if (rating === 'clean')
    return (
      <rect
        x={x - size}
        y={y - size}
        width={2 * size}
        height={2 * size}
        rx={size / 4}
        className="fill-glaze"
      />
    )
  return (
    <path
      d={`M${x - size} ${y - size}L${x + size} ${y + size}M${x + size} ${y - size}L${x - size} ${y + size}`}
      className="fill-none stroke-ember"
      strokeWidth={size / 1.9}
      strokeLinecap="round"
    />
  )
}

export function RatingIcon({ rating }: { rating: Rating }) {
  return (
    <svg aria-hidden viewBox="-9 -9 18 18" className="inline-block size-4 shrink-0">
      <RatingMark rating={rating} x={0} y={0} />
    </svg>
  )
}

export const RATING_INK: Record<Rating, string> = {
  faint: 'text-frost',
  clean: 'text-glaze',
  harsh: 'text-ember',
}
