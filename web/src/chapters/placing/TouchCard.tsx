import type { Job } from '../../api/types'
import { TickField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { PracticePointer } from '../practice/PracticePointer'
import type { Edit } from './usePlacingEdit'
import { useState } from 'react'
import { SpotInputs } from './SpotInputs'
import { readSpots, rowsOf, type Row } from './spots'

const CORNERS = ['Lower left', 'Lower right', 'Upper left']

/** Where the pointer stood when it touched the piece's edge, read off the machine. */
export function TouchCard({ job, edit }: { job: Job; edit: Edit }) {
  const disc = job.face.shape === 'disc'
  const chords = disc && (edit.spec.by_chords ?? false)
  const least = chords ? 4 : disc ? 3 : 2
  const [rows, setRows] = useState(() => rowsOf(edit.spec.points ?? [], 3))
  const put = (next: Row[]) => {
    setRows(next)
    const spots = readSpots(next)
    if (spots && spots.length >= least) edit.change({ points: spots })
  }
  return (
    <Card title={disc ? 'Touch the rim' : 'Touch the corners'}>
      <p className="mb-3 text-soft">
        {chords
          ? 'Draw two chords across each other with a square, bring the pointer to both ends of the first, then of the second, and type where the machine says it is.'
          : disc
            ? 'Bring the pointer to the rim, a third of the way round each time, and type where the machine says it is. More points tell how sure the middle is.'
            : 'Bring the pointer to these corners as the piece lies, and type where the machine says it is. The third one tells whether it is square.'}
      </p>
      <SpotInputs rows={rows} put={put} names={disc ? undefined : CORNERS} />
      {!chords && <PracticePointer job={job} touched={(points) => put(rowsOf(points, 3))} />}
      {disc && (
        <TickField
          checked={chords}
          onChange={(e) => {
            edit.change({ by_chords: e.target.checked })
            if (e.target.checked)
              setRows((old) => [...old.slice(0, 4), ...rowsOf([], 4 - Math.min(4, old.length))])
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
