import { useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { fetchAnew, keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { isOver, useBurn, useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { showMinutes } from '../../ui/units'
import { LaserProgress } from './LaserProgress'
import { useBurnStart } from './useBurnStart'

type Grid = Schema<'GridOut'>
type Burn = Schema<'BurnOut'>

/** The simulated laser: start it, watch it, hold it, stop it. */
export function BurnCard({ job, grid, redesign }: { job: Job; grid: Grid; redesign: () => void }) {
  const { burn } = grid
  if (burn && !isOver(burn))
    return <Burning job={job} burn={burn} seconds={grid.burn_seconds / grid.sheets.length} />
  return <ReadyToBurn job={job} grid={grid} redesign={redesign} />
}

function ReadyToBurn({ job, grid, redesign }: { job: Job; grid: Grid; redesign: () => void }) {
  const [pace, setPace] = useState('quick')
  const start = useBurnStart(job, grid)
  const { burn } = grid
  return (
    <Card accent title={`Grid ${grid.label}, simulated laser`}>
      <p className="text-3xl leading-tight font-bold">
        Burn it
        {grid.sheets.length > 1 ? `: spare ${grid.next_spare} of ${grid.sheets.length}` : ' on a spare'}
      </p>
      <p className="mt-1 mb-3 text-soft">
        {showMinutes(grid.burn_seconds / 60)} on the machine&apos;s clock; no beam, no smoke.
      </p>
      {burn?.state === 'failed' && (
        <div role="alert" className="mb-3 rounded-xl bg-ember-tint p-3">
          <p className="font-bold">The last burn failed. {burn.trouble}</p>
          <p className="text-soft">Nothing was marked. Start it again.</p>
        </div>
      )}
      <SelectField label="Clock" name="pace" value={pace} onChange={(e) => setPace(e.target.value)}>
        <option value="quick">so that it takes about 20 s</option>
        <option value="10">ten times as fast as real</option>
        <option value="1">as slow as real</option>
      </SelectField>
      <Button
        look="main"
        className="mt-4 w-full text-lg"
        disabled={start.isPending}
        onClick={() => start.mutate(pace)}
      >
        Start the simulated burn
      </Button>
      <Button look="quiet" className="w-full" onClick={redesign}>
        Change the grid
      </Button>
      {start.error && <Problem error={start.error} />}
    </Card>
  )
}

function Burning({ job, burn: first, seconds }: { job: Job; burn: Burn; seconds: number }) {
  const client = useQueryClient()
  const { data: burn } = useBurn(first)
  const over = isOver(burn)
  useEffect(() => {
    if (!over) return
    void fetchAnew.these(client, keys.job(job.id))
  }, [over, client, job.id])
  const tell = useJobWrite(job.id, (word: string) =>
    body(api.POST('/api/burns/{burn_id}/{word}', { params: { path: { burn_id: burn.id, word } } })),
  )
  return <LaserProgress burn={burn} seconds={seconds} tell={tell.mutate} error={tell.error} />
}
