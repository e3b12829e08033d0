import type { Schema } from '../api/client'

/** What a finished piece went through, as it is called. */
export const TRIALS: Record<Schema<'LaterTrial'>, string> = {
  scraper: 'a scraper',
  solvent: 'a solvent',
  dishwasher: 'a dishwasher',
  time: 'time alone',
}

const WIDTH = 120

/** A share with the range that holds it, on a line from none to all. */
export function LastedMark({ share }: { share: Schema<'RangeOut'> }) {
  const x = (value: number) => 4 + value * (WIDTH - 8)
  const words = `${Math.round(100 * share.low)} to ${Math.round(100 * share.high)} of 100`
  return (
    <svg role="img" aria-label={words} viewBox={`0 0 ${WIDTH} 16`} className="h-4 w-30 shrink-0">
      <line x1={4} x2={WIDTH - 4} y1={8} y2={8} className="stroke-line" strokeWidth={2} />
      <line
        x1={x(share.low)}
        x2={x(share.high)}
        y1={8}
        y2={8}
        className="stroke-glaze"
        strokeWidth={6}
        strokeLinecap="round"
      />
      <circle cx={x(share.mid)} cy={8} r={4} className="fill-card stroke-ink" strokeWidth={2} />
    </svg>
  )
}
