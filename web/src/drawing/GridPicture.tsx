import type { KeyboardEvent } from 'react'
import type { Schema } from '../api/client'
import { neighbour, stepOf } from './cellWalk'
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
            <SheetCells
              cells={grid.cells.filter((cell) => cell.spare === sheet.spare)}
              side={grid.cell_mm}
              bright={(cell) => 0.3 + 0.55 * ((Math.log(cell.energy_j_mm2) - low) / span)}
              selected={selected}
              select={select}
            />
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

/** The cells; where one may be chosen, they are one stop of the Tab key, and arrows, Enter and Space choose. */
function SheetCells({
  cells,
  side,
  bright,
  selected,
  select,
}: {
  cells: Cell[]
  side: number
  bright: (cell: Cell) => number
  selected?: string
  select?: (code: string) => void
}) {
  const stop = cells.some((c) => c.code === selected) ? selected : cells[0]?.code
  const press = (event: KeyboardEvent<SVGGElement>) => {
    const from = cells.find((c) => c.code === (event.target as SVGGElement).dataset.code)
    const step = stepOf(event.key)
    if (!from || !select || !(step || event.key === 'Enter' || event.key === ' ')) return
    event.preventDefault()
    // The page's own arrow keys would go a second step.
    event.stopPropagation()
    const to = step ? neighbour(cells, from, ...step) : from.code
    select(to)
    event.currentTarget.querySelector<SVGGElement>(`[data-code="${to}"]`)?.focus()
  }
  return (
    <g
      role={select ? 'listbox' : undefined}
      aria-label={select ? 'Cells; arrow keys go from one to the next' : undefined}
      onKeyDown={select && press}
    >
      {cells.map((cell) => (
        <CellSquare
          key={cell.code}
          cell={cell}
          side={side}
          bright={bright(cell)}
          selected={selected === cell.code}
          stop={stop === cell.code}
          select={select && (() => select(cell.code))}
        />
      ))}
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
  stop,
  select,
}: {
  cell: Cell
  side: number
  bright: number
  selected: boolean
  stop: boolean
  select?: () => void
}) {
  const missing = cell.burned !== 'full'
  return (
    <g
      data-theme="light"
      transform={`translate(${cell.x_mm} ${-cell.y_mm})`}
      onClick={select}
      role={select ? 'option' : undefined}
      tabIndex={select && (stop ? 0 : -1)}
      data-code={cell.code}
      aria-label={`${cell.code}, ${missing ? (cell.burned === 'part' ? 'burned in part' : 'not burned') : (cell.rating ?? 'not rated')}`}
      aria-selected={select ? selected : undefined}
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
