import type { Job } from '../../api/types'
import { TickField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import type { Edit } from './usePlacingEdit'
import { useState } from 'react'
import { readSpots } from './spots'

const CORNERS = ['Lower left', 'Lower right', 'Upper left']

/** Where the pointer stood when it touched the piece's edge, read off the machine. */
export function TouchCard({ job, edit }: { job: Job; edit: Edit }) {
  const disc = job.face.shape === 'disc'
  const chords = disc && (edit.spec.by_chords ?? false)
  const least = chords ? 4 : disc ? 3 : 2
  const [rows, setRows] = useState<[string, string][]>(() => {
    const kept = (edit.spec.points ?? []).map(([x, y]): [string, string] => [String(x), String(y)])
    return [
      ...kept,
      ...Array.from({ length: 3 - Math.min(3, kept.length) }, (): [string, string] => ['', '']),
    ]
  })
  const put = (row: number, column: 0 | 1, text: string) => {
    const next = rows.map((pair, n): [string, string] =>
      n !== row ? pair : column === 0 ? [text, pair[1]] : [pair[0], text],
    )
    setRows(next)
    const spots = readSpots(next)
    if (spots && spots.length >= least) edit.change({ points: spots })
  }
  const box = 'min-h-11 w-full rounded-lg border border-line bg-card px-3 font-mono text-ink'
  return (
    <Card title={disc ? 'Touch the rim' : 'Touch the corners'}>
      <p className="mb-3 text-soft">
        {chords
          ? 'Draw two chords across each other with a square, bring the pointer to both ends of the first, then of the second, and type where the machine says it is.'
          : disc
            ? 'Bring the pointer to the rim, a third of the way round each time, and type where the machine says it is. More points tell how sure the middle is.'
            : 'Bring the pointer to these corners as the piece lies, and type where the machine says it is. The third one tells whether it is square.'}
      </p>
      <ol className="grid gap-2">
        {rows.map(([x, y], row) => (
          <li key={row} className="grid grid-cols-[1fr_1fr] gap-2">
            {!disc && <span className="col-span-2 text-sm font-bold">{CORNERS[row]}</span>}
            {([x, y] as const).map((text, column) => (
              <input
                key={column}
                aria-label={`${disc ? `Point ${row + 1}` : CORNERS[row]}, ${column ? 'y' : 'x'} in mm`}
                placeholder={column ? 'y, mm' : 'x, mm'}
                inputMode="decimal"
                className={box}
                value={text}
                onChange={(e) => put(row, column as 0 | 1, e.target.value)}
              />
            ))}
          </li>
        ))}
      </ol>
      {disc && (
        <TickField
          checked={chords}
          onChange={(e) => {
            edit.change({ by_chords: e.target.checked })
            if (e.target.checked)
              setRows((old) => [
                ...old.slice(0, 4),
                ...Array.from({ length: Math.max(0, 4 - old.length) }, (): [string, string] => ['', '']),
              ])
          }}
        >
          Two chords, drawn with a square
        </TickField>
      )}
      {disc && !chords && rows.length < 24 && (
        <Button look="quiet" className="-ml-2" onClick={() => setRows([...rows, ['', '']])}>
          One more point
        </Button>
      )}
    </Card>
  )
}
