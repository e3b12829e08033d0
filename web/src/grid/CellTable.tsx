import type { Schema } from '../api/client'
import { RatingIcon } from '../ui/RatingMark'
import { Card } from '../ui/parts'
import { showEnergy, useUnits } from '../ui/units'

export function CellTable({ grid }: { grid: Schema<'GridOut'> }) {
  const { showSpeed, showInterval } = useUnits()
  return (
    <Card title="Cells" aside={<span className="text-sm text-soft">{grid.cells.length} in all</span>}>
      <div className="max-h-96 overflow-auto" tabIndex={0} role="region" aria-label="Cells">
        <table className="w-full text-right font-mono text-sm">
          <thead className="sticky top-0 bg-card font-sans text-soft">
            <tr>
              <th className="py-1 text-left">Cell</th>
              <th>Power</th>
              <th>Speed</th>
              <th className="hidden sm:table-cell">Lines</th>
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
