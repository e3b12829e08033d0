import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { RefusalScope } from '../../ui/form'
import { Button } from '../../ui/parts'
import { PracticePointer } from '../practice/PracticePointer'
import { SpotInputs } from './SpotInputs'
import { readSpots, rowsOf } from './spots'
import { useSeen } from '../../ui/useSeen'

const CROSSES = ['Cross near pocket 1', 'Cross across from it']

/** Where a jig lies on the bed now: its two crosses touched, and what they say. */
export function JigSeat({
  job,
  kept,
  lies,
}: {
  job: Job
  kept: Schema<'KeptJigOut'>
  lies: Schema<'LyingJigOut'> | null
}) {
  const client = useQueryClient()
  const { seen, see } = useSeen(kept.version)
  const [rows, setRows] = useState(rowsOf(lies ? kept.touched : [], 2))
  const spots = readSpots(rows)
  const seat = useMutation({
    mutationFn: (touched: [number, number][]) =>
      body(
        api.PUT('/api/jigs/{jig_id}/seat', {
          params: { path: { jig_id: kept.id } },
          body: { machine_id: job.machine_id, touched, version: seen },
        }),
      ),
    onSuccess: (seated) => see(seated.version),
    onSettled: () => fetchAnew.these(client, keys.job(job.id, 'jigs'), keys.jigs),
  })
  return (
    <RefusalScope error={seat.error}>
      <h3 className="font-bold">Where it lies</h3>
      <p className="mb-2 text-sm text-soft">
        Clamp the jig, bring the pointer to both crosses, and type where the machine says it is. Every pocket
        goes along.
      </p>
      <SpotInputs rows={rows} put={setRows} names={CROSSES} />
      {!lies && (
        <PracticePointer job={job} jigId={kept.id} touched={(points) => setRows(rowsOf(points, 2))} />
      )}
      <div className="mt-2 flex flex-wrap gap-2">
        <Button
          look={lies ? 'plain' : 'main'}
          disabled={spots?.length !== 2 || seat.isPending}
          onClick={() => spots && seat.mutate(spots)}
        >
          It lies here
        </Button>
        {lies && (
          <Button look="quiet" disabled={seat.isPending} onClick={() => seat.mutate([])}>
            Taken off
          </Button>
        )}
      </div>
      {lies && (
        <p className="mt-2 text-sm">
          Turned {Math.abs(lies.turn_deg).toFixed(2)}° {lies.turn_deg < 0 ? 'clockwise' : 'counterclockwise'};
          the crosses agree to {lies.residual_mm.toFixed(2)} mm.
        </p>
      )}
      {seat.error && <Problem error={seat.error} />}
    </RefusalScope>
  )
}
