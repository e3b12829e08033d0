import { scaleLinear } from 'd3-scale'
import type { Schema } from '../api/client'
import { useWidth } from '../ui/useSize'

const ROW = 46

/** Each coat's share of clean cells as a block on its range, over a line from none to all. */
export function ArmsPicture({ arms }: { arms: Schema<'ArmOut'>[] }) {
  const { ref, width } = useWidth(600)
  const x = scaleLinear([0, 1], [8, Math.max(200, width) - 20])
  const height = arms.length * ROW + 26
  return (
    <div ref={ref}>
      <svg
        width={Math.max(200, width)}
        height={height}
        className="block max-w-full"
        role="img"
        aria-label={arms.map((a) => `${a.label}: ${Math.round(100 * a.share)} % clean`).join('. ')}
      >
        {[0, 0.25, 0.5, 0.75, 1].map((share) => (
          <g key={share}>
            <line x1={x(share)} x2={x(share)} y1={4} y2={height - 20} className="stroke-line" />
            <text x={x(share)} y={height - 6} textAnchor="middle" className="fill-soft font-mono text-xs">
              {100 * share}
            </text>
          </g>
        ))}
        {arms.map((arm, index) => {
          const y = index * ROW + 32
          return (
            <g key={arm.label}>
              <text
                x={x(0)}
                y={y - 12}
                className="fill-ink text-sm font-bold"
                paintOrder="stroke"
                stroke="var(--card)"
                strokeWidth={3}
              >
                {arm.label}
              </text>
              {arm.cells > 0 ? (
                <>
                  <line
                    x1={x(arm.low)}
                    x2={x(arm.high)}
                    y1={y}
                    y2={y}
                    className="stroke-glaze"
                    strokeWidth={6}
                    opacity={0.35}
                    strokeLinecap="round"
                  />
                  <rect x={x(arm.share) - 6} y={y - 6} width={12} height={12} className="fill-glaze" />
                </>
              ) : (
                <line x1={x(0)} x2={x(1)} y1={y} y2={y} className="stroke-soft" strokeDasharray="2 5" />
              )}
            </g>
          )
        })}
      </svg>
      <p className="mb-3 text-right text-sm text-soft">clean cells, %</p>
    </div>
  )
}
