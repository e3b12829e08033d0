import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useBatch, useBatches, useBatchPlan } from '../../api/hooks'
import type { Job } from '../../api/types'
import { BatchStrip } from '../../drawing/BatchStrip'
import { RATING_INK, RatingIcon } from '../../drawing/RatingMark'
import { Findings, Loading, Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'
import { FaultCard } from './FaultCard'
import { FinishCard } from './FinishCard'
import { isWhole, ticksOf, type Ticked } from './gate'
import { GateList } from './GateList'
import { NowCard } from './NowCard'
import { PieceRecord } from './PieceRecord'
import { StartBatch } from './StartBatch'
import { useBatchDeeds, type BatchDeeds } from './useBatchDeeds'

/** The batch that is open, or what the next one is made of; then the older ones. */
export function BatchDesk({ job }: { job: Job }) {
  const batches = useBatches(job.id)
  const [shown, setShown] = useState<number | null>(null)
  if (batches.isPending) return <Loading what="batches" />
  if (batches.isError) return <Problem error={batches.error} again={() => void batches.refetch()} />
  const open = batches.data.find((batch) => batch.closed_at === null)
  const older = batches.data.filter((batch) => batch.closed_at !== null)
  return (
    <div className="no-print grid gap-4">
      {open ? <OpenBatch job={job} id={open.id} /> : <StartBatch job={job} />}
      {older.length > 0 && (
        <Card title="Batches before">
          <ul>
            {older.map((batch) => (
              <li key={batch.id} className="border-b border-line last:border-0">
                <button
                  type="button"
                  aria-expanded={shown === batch.id}
                  className="flex min-h-11 w-full flex-wrap items-center gap-x-4 py-1 text-left"
                  onClick={() => setShown(shown === batch.id ? null : batch.id)}
                >
                  <span className="font-bold">Batch {batch.number}</span>
                  <span className="text-soft">{dayAndClock(batch.started_at)}</span>
                  <span className="text-soft">{batch.pieces} pieces</span>
                  {(['clean', 'faint', 'harsh'] as const).map((rating) => (
                    <span key={rating} className={`flex items-center gap-1 ${RATING_INK[rating]}`}>
                      <RatingIcon rating={rating} /> {batch[rating]}
                    </span>
                  ))}
                  {batch.spoilt > 0 && <span className="text-soft">{batch.spoilt} spoilt</span>}
                </button>
                {shown === batch.id && <OpenBatch job={job} id={batch.id} />}
              </li>
            ))}
          </ul>
        </Card>
      )}
    </div>
  )
}

function OpenBatch({ job, id }: { job: Job; id: number }) {
  const batch = useBatch(job.id, id)
  if (batch.isPending) return <Loading what="batch" />
  if (!batch.data) return <Problem error={batch.error} again={() => void batch.refetch()} />
  return <BatchOf job={job} batch={batch.data} />
}

function BatchOf({ job, batch }: { job: Job; batch: Schema<'BatchOut'> }) {
  const [chosen, setChosen] = useState<number | null>(null)
  const own = useBatchDeeds(job.id, batch)
  const deeds: BatchDeeds = {
    ...own,
    look: (seen, look) => {
      own.look(seen, look)
      // What went wrong is explained at once.
      if (look.rating !== 'clean' || look.defects?.length) setChosen(seen.id)
    },
  }
  const open = batch.closed_at === null
  const row = batch.rows.find((r) => r.id === chosen)
  return (
    <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,28rem)_minmax(0,1fr)]">
      <div className="grid gap-4">
        {open && !batch.gate_holds && <GateAgain job={job} deeds={deeds} />}
        <Findings list={batch.findings} />
        {open && <NowCard job={job} batch={batch} deeds={deeds} />}
        {deeds.error && <Problem error={deeds.error} />}
      </div>
      <div className="grid gap-4">
        {row && (
          <PieceRecord
            key={row.id}
            job={job}
            row={row}
            ticks={batch.ticks}
            open={open}
            deeds={deeds}
            close={() => setChosen(null)}
          />
        )}
        <Card title="The pieces, in the order of burning">
          <BatchStrip
            rows={batch.rows}
            chosen={chosen}
            choose={(id) => setChosen(id === chosen ? null : id)}
          />
          <p className="mt-3 text-sm text-soft">
            {batch.artwork || 'Artwork from elsewhere'}
            {batch.jig && `, in ${batch.jig}`}; setting version {batch.lock_version} on {batch.machine}. Gate:{' '}
            {batch.gate.map((gone) => `${gone.by}, ${dayAndClock(gone.at)}`).join('; ')}.
          </p>
          {open && batch.tasks[0]?.kind !== 'close' && (
            <Button look="quiet" className="-ml-2" disabled={deeds.pending} onClick={deeds.close}>
              Close the batch early
            </Button>
          )}
        </Card>
        {open && job.practice && <FaultCard job={job} batch={batch} />}
        <FinishCard batch={batch} deeds={deeds} />
      </div>
    </div>
  )
}

function GateAgain({ job, deeds }: { job: Job; deeds: BatchDeeds }) {
  const plan = useBatchPlan(job.id, {})
  const [ticked, setTicked] = useState<Ticked>({})
  if (!plan.data) return null
  return (
    <Card accent title="Before the beam goes on again">
      <p className="mb-2">It is some hours since somebody went through the gate.</p>
      <GateList gate={plan.data.gate} ticked={ticked} set={setTicked} />
      <Button
        look="main"
        className="mt-3 min-h-14 w-full text-lg"
        disabled={deeds.pending || !isWhole(plan.data.gate, ticked)}
        onClick={() => deeds.gate(ticksOf(ticked))}
      >
        All of it is so
      </Button>
    </Card>
  )
}
