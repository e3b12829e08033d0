import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { TickField } from '../../ui/form'
import { Button, Card, Figures } from '../../ui/parts'

type Wish = Partial<Schema<'LandIn'>>

function useLanding(job: Job) {
  return useMutation({
    mutationFn: (wish: Wish) =>
      body(
        api.POST('/api/jobs/{job_id}/practice/landing', {
          params: { path: { job_id: job.id } },
          body: { jig_id: null, number: 1, levelled: true, ...wish },
        }),
      ),
  })
}

/** Where the mark of a practice piece lands: on the bed, or on a wall that a device turns. */
export function LandingCard({ job, tapers }: { job: Job; tapers: boolean }) {
  const land = useLanding(job)
  const [levelled, setLevelled] = useState(true)
  const piece = land.data?.pieces[0]
  return (
    <Card title="On the practice bench">
      <p className="text-soft">Burn the mark there, and see where it lands.</p>
      {tapers && (
        <TickField checked={levelled} onChange={(e) => setLevelled(e.target.checked)}>
          The shim is under it
        </TickField>
      )}
      <Button className="mt-2" disabled={land.isPending} onClick={() => land.mutate({ levelled })}>
        {land.isPending ? 'Burning …' : 'Burn it there'}
      </Button>
      {land.error && <Problem error={land.error} />}
      {piece && (
        <p className="mt-3 font-bold">
          {offText(piece)} off, turned {Math.abs(piece.turn_deg).toFixed(2)}°.
        </p>
      )}
      {land.data?.wall && <WallLanded wall={land.data.wall} />}
    </Card>
  )
}

function WallLanded({ wall }: { wall: Schema<'TurnedMarkOut'> }) {
  const [meant = 0, high = 0] = wall.meant_mm
  const [came = 0, along = 0] = wall.came_mm
  const wider = 100 * (came / meant - 1)
  return (
    <div className="mt-3">
      <p className="font-bold">
        {Math.abs(wider) < 0.75
          ? 'As wide as meant.'
          : `${Math.abs(wider).toFixed(1)} % too ${wider > 0 ? 'wide' : 'narrow'}: measure the wall, and calibrate what turns it.`}
      </p>
      {Math.abs(wall.sloped_mm) > 0.2 && (
        <p className="font-bold">It creeps along the rollers: put a stop at its end.</p>
      )}
      <Figures
        rows={[
          ['Round, mm', `${came.toFixed(1)} of ${meant.toFixed(1)}`],
          ['Along, mm', `${along.toFixed(1)} of ${high.toFixed(1)}`],
          ['Slopes by', `${Math.abs(wall.sloped_mm).toFixed(2)} mm`],
          ['Rises by', `${wall.rise_mm.toFixed(2)} mm`],
        ]}
      />
    </div>
  )
}

/** Where the marks of a load land, piece by piece in its jig. */
export function LoadLanding({ job, jigId, number }: { job: Job; jigId: number; number: number }) {
  const land = useLanding(job)
  const pieces = [...(land.data?.pieces ?? [])].sort((a, b) => off(b) - off(a))
  const worst = pieces[0]
  if (!job.practice) return null
  return (
    <div className="mt-3 border-t border-line pt-3">
      <Button disabled={land.isPending} onClick={() => land.mutate({ jig_id: jigId, number })}>
        {land.isPending ? 'Burning …' : 'Burn the load on the practice bench'}
      </Button>
      {land.error && <Problem error={land.error} />}
      {worst && (
        <p className="mt-2">
          <span className="font-bold">
            {pieces.length} pieces, the worst {offText(worst)} off
          </span>{' '}
          (piece {worst.piece}, turned {Math.abs(worst.turn_deg).toFixed(2)}°): what the pockets’ play and two
          touches leave.
        </p>
      )}
    </div>
  )
}

/** Strips beside the ridge of a practice glass under a fixed head: what truly comes out clean there. */
export function RidgeCard({ job, burned }: { job: Job; burned: (found: Schema<'RidgeOut'>) => void }) {
  const burn = useMutation({
    mutationFn: () =>
      body(api.POST('/api/jobs/{job_id}/practice/ridge', { params: { path: { job_id: job.id } } })),
    onSuccess: burned,
  })
  return (
    <Card title="On the practice bench">
      <p className="text-soft">
        Burn narrow strips beside the ridge on sixty pieces: dots in the picture show how many came out clean.
      </p>
      <Button className="mt-2" disabled={burn.isPending} onClick={() => burn.mutate()}>
        {burn.isPending ? 'Burning …' : 'Burn the strips'}
      </Button>
      {burn.error && <Problem error={burn.error} />}
    </Card>
  )
}

const off = (piece: Schema<'PieceLandedOut'>) => Math.hypot(piece.x_mm, piece.y_mm)
const offText = (piece: Schema<'PieceLandedOut'>) => `${off(piece).toFixed(2)} mm`
