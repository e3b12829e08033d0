import { scaleLog } from 'd3-scale'
import { area, line } from 'd3-shape'
import type { Schema } from '../api/client'
import { logTicks } from './field'

type Edges = Schema<'EdgesOut'>

export interface LaidWindow {
  name: string
  edges: Edges
  /** The settings that were burned in it. */
  burned: { dwell_ms: number; energy_j_mm2: number }[]
}

const WIDTH = 560
const HIGH = 360
const BOX = { left: 54, right: WIDTH - 12, top: 14, bottom: HIGH - 40 }
const DASHES = ['', '7 4', '2 4', '10 3 2 3', '1 6']
const INKS = ['stroke-glaze', 'stroke-ember', 'stroke-frost', 'stroke-ink', 'stroke-soft']
const FILLS = ['fill-glaze', 'fill-ember', 'fill-frost', 'fill-ink', 'fill-soft']

/** Windows of several jobs over dwell and energy, whatever machine they are of: clean lies between each pair of lines. */
export function EdgesPlot({ windows }: { windows: LaidWindow[] }) {
  const dwells = windows.flatMap((w) => w.edges.dwell_ms)
  const energies = windows.flatMap((w) => [
    ...w.edges.enough_j_mm2.map((e) => e.mid),
    ...w.edges.too_much_j_mm2.map((e) => e.mid),
  ])
  const x = scaleLog([Math.min(...dwells), Math.max(...dwells)], [BOX.left, BOX.right])
  const y = scaleLog([Math.min(...energies) * 0.8, Math.max(...energies) * 1.25], [BOX.bottom, BOX.top])
  const at = (w: LaidWindow, side: 'enough_j_mm2' | 'too_much_j_mm2') =>
    w.edges.dwell_ms.map((d, i): [number, number] => [x(d), y(w.edges[side][i]?.mid ?? 1)])
  const path = line<[number, number]>()
  return (
    <figure>
      <svg
        role="img"
        aria-label={`Windows of ${windows.map((w) => w.name).join(', ')} laid over each other`}
        viewBox={`0 0 ${WIDTH} ${HIGH}`}
        className="w-full"
      >
        {logTicks(...(x.domain() as [number, number]), 8).map((v) => (
          <g key={v}>
            <line x1={x(v)} x2={x(v)} y1={BOX.top} y2={BOX.bottom} className="stroke-line" />
            <text
              x={x(v)}
              y={BOX.bottom + 16}
              textAnchor="middle"
              className="fill-soft font-mono text-[12px]"
            >
              {v}
            </text>
          </g>
        ))}
        {logTicks(...(y.domain() as [number, number]), 8).map((v) => (
          <g key={v}>
            <line x1={BOX.left} x2={BOX.right} y1={y(v)} y2={y(v)} className="stroke-line" />
            <text x={BOX.left - 6} y={y(v) + 4} textAnchor="end" className="fill-soft font-mono text-[12px]">
              {v}
            </text>
          </g>
        ))}
        {windows.map((w, i) => (
          <g key={w.name}>
            <path
              d={
                area<[number, number]>()
                  .x((p) => p[0])
                  .y0((_, k) => at(w, 'enough_j_mm2')[k]?.[1] ?? 0)
                  .y1((p) => p[1])(at(w, 'too_much_j_mm2')) ?? ''
              }
              className={`${FILLS[i]} opacity-10`}
            />
            {(['enough_j_mm2', 'too_much_j_mm2'] as const).map((side) => (
              <path
                key={side}
                d={path(at(w, side)) ?? ''}
                className={`fill-none ${INKS[i]}`}
                strokeWidth={2}
                strokeDasharray={DASHES[i]}
              />
            ))}
            {w.burned.map((setting, k) => (
              <rect
                key={k}
                x={x(setting.dwell_ms) - 5}
                y={y(setting.energy_j_mm2) - 5}
                width={10}
                height={10}
                transform={`rotate(45 ${x(setting.dwell_ms)} ${y(setting.energy_j_mm2)})`}
                className={`fill-card ${INKS[i]}`}
                strokeWidth={2.5}
              />
            ))}
          </g>
        ))}
        <text x={BOX.right} y={HIGH - 4} textAnchor="end" className="fill-soft text-[12px]">
          dwell, ms
        </text>
        <text x={4} y={BOX.top - 2} className="fill-soft text-[12px]">
          J/mm²
        </text>
      </svg>
      <figcaption className="grid gap-1 text-sm">
        {windows.map((w, i) => (
          <span key={w.name} className="flex items-center gap-2">
            <svg aria-hidden viewBox="0 0 40 8" className="h-2 w-10 shrink-0">
              <line x2={40} y1={4} y2={4} className={INKS[i]} strokeWidth={2.5} strokeDasharray={DASHES[i]} />
            </svg>
            {w.name}
          </span>
        ))}
        <span className="text-soft">
          Clean between each pair of lines; a diamond is what was burned. Boundaries without their doubt.
        </span>
      </figcaption>
    </figure>
  )
}
