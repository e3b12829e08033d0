import type { Schema } from '../api/client'
import { PieceOutline, type Outline } from './PieceOutline'
import { RatingMark } from './RatingMark'

type Cell = Schema<'CellOut'>
type Sheet = Schema<'SheetOut'>

/** The grid on the piece, true in proportion, spare by spare. Unrated cells show how much energy they get by how bright
 * they are. */
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
  return (
    <div className={grid.sheets.length > 1 ? 'grid gap-4 lg:grid-cols-2' : undefined}>
      {grid.sheets.map((sheet) => (
        <div key={sheet.spare}>
          {grid.sheets.length > 1 && <p className="mb-1 text-sm text-soft">Spare {sheet.spare}</p>}
          <PieceOutline
            piece={piece}
            maxHeight={maxHeight}
            label={`Grid ${grid.label} on the piece${grid.sheets.length > 1 ? `, spare ${sheet.spare}` : ''}`}
          >
            <SheetEdges sheet={sheet} />
            {grid.cells
              .filter((cell) => cell.spare === sheet.spare)
              .map((cell) => (
                <CellSquare
                  key={cell.code}
                  cell={cell}
                  side={grid.cell_mm}
                  bright={0.3 + 0.55 * ((Math.log(cell.energy_j_mm2) - low) / span)}
                  selected={selected === cell.code}
                  select={select && (() => select(cell.code))}
                />
              ))}
          </PieceOutline>
        </div>
      ))}
    </div>
  )
}

/** Frame, codes and the samples of fine strokes. */
function SheetEdges({ sheet }: { sheet: Sheet }) {
  const { frame } = sheet
  return (
    <g data-theme="light" aria-hidden>
      {frame && (
        <>
          <rect
            x={frame.left_mm + frame.stroke_mm / 2}
            y={-frame.top_mm + frame.stroke_mm / 2}
            width={frame.right_mm - frame.left_mm - frame.stroke_mm}
            height={frame.top_mm - frame.low_mm - frame.stroke_mm}
            className="fill-none stroke-card"
            strokeWidth={frame.stroke_mm}
          />
          {frame.boxes.map(([x = 0, y = 0, width = 0, height = 0], index) => (
            <rect key={index} x={x} y={-y - height} width={width} height={height} className="fill-card" />
          ))}
        </>
      )}
      <path d={pathOf(sheet.codes)} className="fill-none stroke-card" strokeWidth={0.4} />
      <path d={pathOf(sheet.samples)} className="fill-none stroke-card" strokeWidth={0.14} />
    </g>
  )
}

function pathOf(strokes: number[][][]): string {
  return strokes
    .map((stroke) => stroke.map(([x = 0, y = 0], n) => `${n ? 'L' : 'M'}${x} ${-y}`).join(''))
    .join('')
}

function CellSquare({
  cell,
  side,
  bright,
  selected,
  select,
}: {
  cell: Cell
  side: number
  bright: number
  selected: boolean
  select?: () => void
}) {
  const missing = cell.burned !== 'full'
  return (
    <g
      data-theme="light"
      transform={`translate(${cell.x_mm} ${-cell.y_mm})`}
      onClick={select}
      onKeyDown={(event) => event.key === 'Enter' && select?.()}
      role={select ? 'button' : undefined}
      tabIndex={select ? 0 : undefined}
      aria-label={`${cell.code}, ${missing ? (cell.burned === 'part' ? 'burned in part' : 'not burned') : (cell.rating ?? 'not rated')}`}
      aria-pressed={select ? selected : undefined}
    >
      <rect
        x={-side / 2}
        y={-side / 2}
        width={side}
        height={side}
        rx={0.3}
        className={missing ? 'fill-coat stroke-card' : 'fill-card'}
        strokeWidth={missing ? 0.2 : 0}
        strokeDasharray={missing ? '0.8 0.6' : undefined}
        fillOpacity={missing || cell.rating ? 1 : bright * (cell.grey_pct / 100)}
      />
      <CellFace cell={cell} side={side} missing={missing} />
      {selected && (
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
}

function CellFace({ cell, side, missing }: { cell: Cell; side: number; missing: boolean }) {
  if (cell.rating) return <RatingMark rating={cell.rating} x={0} y={0} size={side * 0.24} />
  return (
    <text
      textAnchor="middle"
      dominantBaseline="central"
      fontSize={side * 0.36}
      className={`${missing ? 'fill-card' : 'fill-ink'} font-mono font-bold`}
      stroke="none"
    >
      {cell.code}
    </text>
  )
}
