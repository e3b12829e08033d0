import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useBatchPiece, useCatalogue } from '../../api/hooks'
import type { Job } from '../../api/types'
import { standOf } from '../../drawing/BatchStrip'
import { Loading, Problem } from '../../ui/feedback'
import { Button, Card, Figures, LinkButton } from '../../ui/parts'
import { clock, dayAndClock, useUnits } from '../../ui/units'
import { SteadyPicture } from '../../ui/SteadyPicture'
import { LaterLooks } from './LaterLooks'
import { lookOf, PieceLook } from './PieceLook'
import { PiecePhoto } from './PiecePhoto'
import { isLost, namesOf } from './taskWords'
import type { BatchDeeds } from './useBatchDeeds'
import { WhyCard } from './WhyCard'

type Row = Schema<'BatchRowOut'>

/** All that is known of a piece, and what can still be done with it. */
export function PieceRecord({
  job,
  row,
  ticks,
  open,
  deeds,
  close,
}: {
  job: Job
  row: Row
  ticks: string[]
  open: boolean
  deeds: BatchDeeds
  close: () => void
}) {
  const record = useBatchPiece(job.id, row.id, row.version)
  const catalogue = useCatalogue().data
  const { showSpeed } = useUnits()
  const [mending, setMending] = useState(false)
  const labels = new Map(catalogue?.defects.map((d) => [d.key, d.label]))
  const mendable = open && (row.state === 'washed' || row.state === 'looked')
  return (
    <Card
      title={`${namesOf([row])}: ${standOf(row)}`}
      aside={
        <Button look="quiet" onClick={close}>
          Close
        </Button>
      }
    >
      {job.practice && (row.state === 'washed' || row.state === 'looked') && (
        <div className="mb-3 max-w-xl">
          <SteadyPicture
            src={lookOf(row)}
            alt={`Piece ${row.number}, washed`}
            ratio={job.face.width_mm / job.face.height_mm}
          />
        </div>
      )}
      {(row.defects.length > 0 || row.note) && (
        <p className="mb-2">
          {row.defects.map((d) => labels.get(d) ?? d).join(', ')}
          {row.note && <span className="block text-soft">{row.note}</span>}
        </p>
      )}
      {open && (
        <div className="mb-3 flex flex-wrap gap-2">
          {isLost(row) && (
            <Button look="main" disabled={deeds.pending} onClick={() => deeds.redo(row)}>
              Burn anew on a spare
            </Button>
          )}
          {row.state === 'stopped' && (
            <Button disabled={deeds.pending} onClick={() => deeds.move([row], 'stopped', 'washed')}>
              Washed all the same
            </Button>
          )}
          {row.state === 'skipped' && (
            <Button disabled={deeds.pending} onClick={() => deeds.move([row], 'skipped', 'waiting')}>
              Take it up again
            </Button>
          )}
          {row.state === 'looked' && !mending && (
            <Button onClick={() => setMending(true)}>Mend what was seen</Button>
          )}
        </div>
      )}
      {mendable && (mending || row.state === 'washed') && (
        <PieceLook
          row={row}
          ticks={ticks}
          process={catalogue?.processes.find((p) => p.key === job.process)}
          pending={deeds.pending}
          write={(look) => {
            deeds.look(row, look)
            setMending(false)
          }}
        />
      )}
      {row.state === 'looked' && (isLost(row) || row.defects.length > 0) && !mending && (
        <WhyCard job={job} row={row} open={open} />
      )}
      {record.isPending && <Loading what="record" />}
      {record.isError && <Problem error={record.error} again={() => void record.refetch()} />}
      {record.data && (
        <div className="grid gap-x-8 sm:grid-cols-2">
          <Figures
            rows={[
              ['Turn', String(record.data.order)],
              ['Setting', `version ${record.data.lock_version}`],
              ['Power', `${record.data.setting.power_pct} %`],
              ['Speed', showSpeed(record.data.setting.speed_mm_s)],
              ['Artwork', record.data.artwork || 'from elsewhere'],
              ['Machine', record.data.machine],
            ]}
          />
          <div>
            {record.data.coats.length === 0 && <p className="text-soft">Nobody told of its coat.</p>}
            <Figures
              rows={record.data.coats.map((coat) => [
                `Coat ${coat.number}, lot ${coat.lot}`,
                <>
                  {dayAndClock(coat.at)}
                  {coat.temperature_c !== null &&
                    `, ${coat.temperature_c.toFixed(0)} °C, ${(coat.humidity_pct ?? 0).toFixed(0)} %`}
                </>,
              ])}
            />
            {record.data.coat_photo_id !== null && (
              <img
                className="mt-2 max-h-40 rounded-lg"
                alt="Its coat"
                src={`/api/coat/photos/${record.data.coat_photo_id}/original`}
              />
            )}
          </div>
          {(row.state === 'washed' || row.state === 'looked') && (
            <div className="sm:col-span-2">
              <PiecePhoto job={job} record={record.data} />
            </div>
          )}
          {row.state === 'looked' && (
            <div className="sm:col-span-2">
              <LaterLooks job={job} record={record.data} />
            </div>
          )}
          <div className="mt-3 sm:col-span-2">
            <LinkButton to={`/logbook/pieces?pieces=${row.id}`}>Lay it beside others</LinkButton>
          </div>
          <ol className="mt-3 text-sm text-soft sm:col-span-2">
            {record.data.log.map((step) => (
              <li key={`${step.at} ${step.to}`}>
                <span className="font-mono">{clock(step.at)}</span> {step.to}, {step.by}
              </li>
            ))}
          </ol>
        </div>
      )}
    </Card>
  )
}
