/** From the share of dots burned to how full the mark is: the expected curve in its range, and the greys of a wedge. */
export function TonePlot({
  points,
  steps,
}: {
  points: { share: number; fullness: { low: number; mid: number; high: number } }[]
  steps: { share: number; fullness: number }[]
}) {
  const size = 100
  const at = (share: number, full: number) => `${(share * size).toFixed(2)},${((1 - full) * size).toFixed(2)}`
  const low = points.map((p) => at(p.share, p.fullness.low))
  const high = points.map((p) => at(p.share, p.fullness.high))
  const half = points.find((p) => p.share >= 0.5)
  return (
    <svg
      viewBox="-12 -4 118 118"
      role="img"
      aria-label={`Half of the dots come out ${Math.round(100 * (half?.fullness.mid ?? 0))} % full${steps.length ? `; ${steps.length} greys of a wedge lie on the curve` : ''}`}
      className="w-full"
    >
      <rect width={size} height={size} className="fill-none stroke-line" strokeWidth={0.6} />
      <line
        x1={0}
        y1={size}
        x2={size}
        y2={0}
        className="stroke-line"
        strokeWidth={0.6}
        strokeDasharray="2 2"
      />
      <polygon points={[...low, ...high.reverse()].join(' ')} className="fill-frost-tint" />
      <polyline
        points={points.map((p) => at(p.share, p.fullness.mid)).join(' ')}
        className="fill-none stroke-frost"
        strokeWidth={1.4}
      />
      {steps.map((step) => (
        <rect
          key={step.share}
          x={step.share * size - 1.8}
          y={(1 - step.fullness) * size - 1.8}
          width={3.6}
          height={3.6}
          className="fill-paper stroke-ink"
          strokeWidth={0.9}
        />
      ))}
      <g className="fill-soft" fontSize={6}>
        <text x={size} y={109} textAnchor="end">
          dots burned
        </text>
        <text x={0} y={109}>
          none
        </text>
        <text transform="rotate(-90)" x={-size / 2} y={-4} textAnchor="middle">
          how full it is
        </text>
      </g>
    </svg>
  )
}
