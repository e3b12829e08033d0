import type { Schema } from '../../api/client'
import { Card, Figures } from '../../ui/parts'
import { showEnergy, showJoules, showMinutes, useUnits } from '../../ui/units'

/** What a grid costs and does: time, energy, warmth, reach. */
export function GridFigures({ grid }: { grid: Schema<'GridOut'> }) {
  const { showSpeed } = useUnits()
  const energies = grid.cells.map((c) => c.energy_j_mm2)
  const speeds = grid.cells.map((c) => c.speed_mm_s)
  const { heat } = grid
  const span = (low: number, high: number) => `${low.toFixed(0)} to ${high.toFixed(0)} K`
  return (
    <Card title="Figures">
      <Figures
        rows={[
          ['Energy from', showEnergy(Math.min(...energies))],
          ['to', showEnergy(Math.max(...energies))],
          ['Fastest', showSpeed(Math.max(...speeds))],
          ['Slowest', showSpeed(Math.min(...speeds))],
          ['Patch, gap', `${grid.cell_mm}, ${grid.gap_mm} mm`],
          ['Frame, codes at', `${grid.label_power_pct} %, ${showSpeed(grid.label_speed_mm_s)}`],
        ]}
      />
      {heat && (
        <>
          <h3 className="mt-4 mb-1 text-sm font-bold text-soft">On the piece, estimated</h3>
          <Figures
            rows={[
              ['Burning time', showMinutes(grid.burn_seconds / 60)],
              ['Beam gives', showJoules(heat.energy_j)],
              [
                'Lines a patch',
                heat.lines_least === heat.lines_most
                  ? heat.lines_most
                  : `${heat.lines_least} to ${heat.lines_most}`,
              ],
              [`Hottest, ${heat.hottest}`, `+${span(heat.patch_low_k, heat.patch_high_k)}`],
              ['Whole piece', `+${span(heat.plate_low_k, heat.plate_high_k)}`],
            ]}
          />
        </>
      )}
    </Card>
  )
}
