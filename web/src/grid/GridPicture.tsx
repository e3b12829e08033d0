import type { Schema } from '../api/client'
import { PieceOutline, type Outline } from '../jobs/PieceOutline'
import { RatingMark } from '../ui/RatingMark'

type Cell = Schema<'CellOut'>

/** The grid on the piece, true in proportion. Unrated cells show how much energy they get by how bright they are. */
export function GridPicture({
  grid,
  piece,
  selected,
  select,
  maxHeight,
}: {
  grid: Schema<'GridOut'>
  piece: Outline
  selected?: string
  select?: (code: string) => void
  maxHeight?: number
}) {
  const energies = grid.cells.map((c) => Math.log(c.energy_j_mm2))
  const low = Math.min(...energies)
  const span = Math.max(...energies) - low || 1
  const side = grid.cell_mm
  return (
    <PieceOutline piece={piece} maxHeight={maxHeight} label={`Grid ${grid.label} on the piece`}>
      {grid.labels.flatMap((label) =>
        label.strokes.map((stroke, index) => (
          <polyline
            key={`${label.text}-${index}`}
            points={stroke.map(([x = 0, y = 0]) => `${x},${-y}`).join(' ')}
            data-theme="light"
            className="fill-none stroke-card"
            strokeWidth={0.45}
          />
        )),
      )}
      {grid.cells.map((cell) => {
        const share = (Math.log(cell.energy_j_mm2) - low) / span
        const press = select && (() => select(cell.code))
        return (
          <g
            key={cell.code}
            data-theme="light"
            transform={`translate(${cell.x_mm} ${-cell.y_mm})`}
            onClick={press}
            onKeyDown={(event) => event.key === 'Enter' && press?.()}
            role={select ? 'button' : undefined}
            tabIndex={select ? 0 : undefined}
            aria-label={`${cell.code}, ${cell.rating ?? 'not rated'}`}
            aria-pressed={select ? selected === cell.code : undefined}
          >
            <rect
              x={-side / 2}
              y={-side / 2}
              width={side}
              height={side}
              rx={0.3}
              className="fill-card"
              fillOpacity={cell.rating ? 1 : 0.3 + 0.55 * share}
            />
            <CellFace cell={cell} side={side} />
            {selected === cell.code && (
              <rect
                x={-side / 2 - 0.9}
                y={-side / 2 - 0.9}
                width={side + 1.8}
                height={side + 1.8}
                rx={1}
                className="fill-none stroke-ember"
                strokeWidth={0.9}
              />
            )}
          </g>
        )
      })}
    </PieceOutline>
  )
}

function CellFace({ cell, side }: { cell: Cell; side: number }) {
  if (cell.rating) return <RatingMark rating={cell.rating} x={0} y={0} size={side * 0.24} />
  return (
    <text
      textAnchor="middle"
      dominantBaseline="central"
      fontSize={side * 0.36}
      className="fill-ink font-mono font-bold"
      stroke="none"
    >
      {cell.code}
    </text>
  )
}
