import type { Schema } from '../api/client'

type Cell = Pick<Schema<'CellOut'>, 'code' | 'row' | 'column' | 'rating' | 'burned'>

/** The cell so many rows and columns away, or the same one at the edge. */
export function neighbour(cells: Cell[], from: Cell, rows: number, columns: number): string {
  const found = cells.find((c) => c.row === from.row + rows && c.column === from.column + columns)
  return found?.code ?? from.code
}

/** Rows and columns that an arrow key goes, or null for another key. */
export function stepOf(key: string): [number, number] | null {
  const steps: Record<string, [number, number]> = {
    ArrowUp: [-1, 0],
    ArrowDown: [1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  }
  return steps[key] ?? null
}

/** The next cell that was burned and has no rating after `from`, round to the start; null when all others are rated. */
export function nextUnrated(cells: Cell[], from: string | null): string | null {
  const start = cells.findIndex((c) => c.code === from) + 1
  const order = [...cells.slice(start), ...cells.slice(0, start)]
  return order.find((c) => !c.rating && c.burned === 'full' && c.code !== from)?.code ?? null
}
