import { Button } from '../../ui/parts'

type Row = [string, string]

/** The rows that hold two figures; null while there are none, or one is half typed. */
export function readPairs(rows: Row[]): [number, number][] | null {
  const filled = rows.filter(([, second]) => second.trim() !== '')
  const pairs = filled.map(([a, b]): [number, number] => [
    Number(a.replace(',', '.')),
    Number(b.replace(',', '.')),
  ])
  if (!pairs.length || pairs.some((pair) => pair.some((v) => !Number.isFinite(v)))) return null
  return pairs
}

/** Two columns of figures to type in; empty rows do not count. */
export function PairTable({
  rows,
  setRows,
  first,
  second,
  name,
}: {
  rows: Row[]
  setRows: (rows: Row[]) => void
  first: string
  second: string
  name: string
}) {
  const put = (row: number, column: 0 | 1, text: string) =>
    setRows(rows.map((pair, n): Row => (n !== row ? pair : column === 0 ? [text, pair[1]] : [pair[0], text])))
  const box = 'min-h-11 w-full rounded-lg border border-line bg-card px-3 font-mono text-ink'
  return (
    <div className="mt-3">
      <table className="w-full max-w-sm">
        <thead>
          <tr className="text-left text-sm">
            <th className="pr-2 pb-1 font-bold">{first}</th>
            <th className="pb-1 font-bold">{second}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([a, b], row) => (
            <tr key={row}>
              <td className="pr-2 pb-1">
                <input
                  aria-label={`${first}, row ${row + 1}`}
                  name={`${name}-${row}-a`}
                  inputMode="decimal"
                  className={box}
                  value={a}
                  onChange={(e) => put(row, 0, e.target.value)}
                />
              </td>
              <td className="pb-1">
                <input
                  aria-label={`${second}, row ${row + 1}`}
                  name={`${name}-${row}-b`}
                  inputMode="decimal"
                  className={box}
                  value={b}
                  onChange={(e) => put(row, 1, e.target.value)}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <Button look="quiet" className="-ml-2" onClick={() => setRows([...rows, ['', '']])}>
        One more row
      </Button>
    </div>
  )
}
