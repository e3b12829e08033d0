import { scaleLinear } from 'd3-scale'
import type { Schema } from '../api/client'
import { useWidth } from '../ui/useSize'

/** Squared widths over ln power with their straight line, or over height. */
export function SpotPlot({ test }: { test: Schema<'SpotTestOut'> }) {
  const { ref, width } = useWidth(360)
  const lines = test.kind === 'lines'
  const across = (p: Record<string, number>) => (lines ? Math.log(p.power_pct ?? 1) : (p.height_mm ?? 0))
  const points = test.points.map((p) => ({ x: across(p), y: ((p.width_um ?? 0) / 100) ** 2, raw: p }))
  const zero = lines && test.threshold_pct ? Math.log(test.threshold_pct.mid) : null
  const xs = [...points.map((p) => p.x), ...(zero === null ? [] : [zero])]
  const height = 196
  const x = scaleLinear([Math.min(...xs), Math.max(...xs)], [34, Math.max(width, 200) - 12])
  const y = scaleLinear([0, 1.1 * Math.max(...points.map((p) => p.y))], [height - 36, 10])
  const radius = test.radius_um?.mid
  const end = Math.max(...xs)
  return (
    <div ref={ref} className="mb-3">
      <svg
        width={Math.max(width, 200)}
        height={height}
        role="img"
        aria-label="Squared widths of the measured lines"
      >
        <line x1={34} y1={y(0)} x2={Math.max(width, 200) - 12} y2={y(0)} className="stroke-line" />
        {zero !== null && radius && (
          <line
            x1={x(zero)}
            y1={y(0)}
            x2={x(end)}
            y2={y((2 * radius ** 2 * (end - zero)) / 1e4)}
            className="stroke-glaze"
            strokeWidth={2}
          />
        )}
        {test.height_mm && (
          <line
            x1={x(test.height_mm.mid)}
            y1={10}
            x2={x(test.height_mm.mid)}
            y2={y(0)}
            className="stroke-glaze"
            strokeWidth={2}
          />
        )}
        {points.map((p, n) => (
          <g key={n}>
            <circle cx={x(p.x)} cy={y(p.y)} r={5} className="fill-ink" />
            <text x={x(p.x)} y={height - 18} textAnchor="middle" className="fill-soft font-mono text-[11px]">
              {lines ? p.raw.power_pct : p.raw.height_mm}
            </text>
          </g>
        ))}
        <text x={0} y={12} className="fill-soft text-[11px]">
          width²
        </text>
        <text x={Math.max(width, 200) - 12} y={height - 3} textAnchor="end" className="fill-soft text-[11px]">
          {lines ? 'power, %, log' : 'height, mm'}
        </text>
      </svg>
    </div>
  )
}
