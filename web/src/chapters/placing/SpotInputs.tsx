import type { Row } from './spots'

const BOX = 'min-h-11 w-full rounded-lg border border-line bg-card px-3 font-mono text-ink'

/** Rows of two figures each, x and y where the pointer stood; named, or numbered. */
export function SpotInputs({
  rows,
  put,
  names,
}: {
  rows: Row[]
  put: (rows: Row[]) => void
  names?: string[]
}) {
  const change = (row: number, column: 0 | 1, text: string) =>
    put(rows.map((pair, n): Row => (n !== row ? pair : column === 0 ? [text, pair[1]] : [pair[0], text])))
  return (
    <ol className="grid gap-2">
      {rows.map((pair, row) => (
        <li key={row} className="grid grid-cols-2 gap-2">
          {names && <span className="col-span-2 text-sm font-bold">{names[row]}</span>}
          {pair.map((text, column) => (
            <input
              key={column}
              aria-label={`${names?.[row] ?? `Point ${row + 1}`}, ${column ? 'y' : 'x'} in mm`}
              placeholder={column ? 'y, mm' : 'x, mm'}
              inputMode="decimal"
              className={BOX}
              value={text}
              onChange={(e) => change(row, column as 0 | 1, e.target.value)}
            />
          ))}
        </li>
      ))}
    </ol>
  )
}
