import type { Schema } from '../../api/client'
import { RatingIcon } from '../../drawing/RatingMark'
import { Card } from '../../ui/parts'
import { showEnergy, useUnits } from '../../ui/units'

type Cell = Schema<'CellOut'>

export function CellTable({ grid }: { grid: Schema<'GridOut'> }) {
  const { showSpeed, showInterval } = useUnits()
  const extras = grid.cells.some((c) => !c.plain)
  return (
    <Card title="Cells" aside={<span className="text-sm text-soft">{grid.cells.length} in all</span>}>
      <div className="max-h-96 overflow-auto" tabIndex={0} role="region" aria-label="Table of the cells">
        <table className="w-full text-right font-mono text-sm">
          <thead className="sticky top-0 bg-card font-sans text-soft">
            <tr>
              <th className="py-1 text-left">Cell</th>
              <th>Power</th>
              <th>Speed</th>
              <th className="hidden sm:table-cell">Lines</th>
              <th className="hidden sm:table-cell">Passes</th>
              {extras && <th>Besides</th>}
              <th>Energy</th>
              <th className="hidden sm:table-cell">Dwell</th>
            </tr>
          </thead>
          <tbody>
            {grid.cells.map((cell) => (
              <tr key={cell.code} className="border-t border-line">
                <th className="py-1 text-left">
                  {cell.code} {cell.rating && <RatingIcon rating={cell.rating} />}
                </th>
                <td>{cell.power_pct} %</td>
                <td>{showSpeed(cell.speed_mm_s)}</td>
                <td className="hidden sm:table-cell">{showInterval(cell.interval_mm)}</td>
                <td className="hidden sm:table-cell">{cell.passes}</td>
                {extras && <td>{besides(cell)}</td>}
                <td>{showEnergy(cell.energy_j_mm2)}</td>
                <td className="hidden sm:table-cell">{cell.dwell_ms.toFixed(2)} ms</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Card>
  )
}

/** What a cell has that the job's own pieces have not. */
export function besides(cell: Cell): string {
  return [
    cell.focus_mm !== 0 && `head ${cell.focus_mm > 0 ? '+' : '−'}${Math.abs(cell.focus_mm)} mm`,
    cell.coats !== null && `${cell.coats} coat${cell.coats === 1 ? '' : 's'}`,
    cell.grey_pct !== 100 && `${cell.grey_pct} % grey`,
  ]
    .filter(Boolean)
    .join(', ')
}
