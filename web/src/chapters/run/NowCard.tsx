import { Download } from 'lucide-react'
import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Button, Card, FileLink, Progress } from '../../ui/parts'
import { useShortcuts } from '../../ui/shortcuts'
import { clock, percent, showMinutes } from '../../ui/units'
import { countdown, useServerNow } from '../../ui/useNow'
import { lookOf, PieceLook } from './PieceLook'
import { meanwhile, namesOf, wordsOf } from './taskWords'
import type { BatchDeeds } from './useBatchDeeds'

type Batch = Schema<'BatchOut'>
type Row = Schema<'BatchRowOut'>
type Task = Schema<'BatchTaskOut'>

const keyOf = (task: Task) => `${task.kind} ${task.ids.join()}`

/** The one thing to do now, with one large button; then what may be done meanwhile, which a press
 * brings to the front. */
export function NowCard({ job, batch, deeds }: { job: Job; batch: Batch; deeds: BatchDeeds }) {
  const [front, setFront] = useState('')
  const task = batch.tasks.find((t) => t.ids.join() === front) ?? batch.tasks[0]
  if (!task) return null
  const others = batch.tasks.filter((t) => t !== task)
  const rowsOf = (t: Task) => batch.rows.filter((row) => t.ids.includes(row.id))
  return (
    <Card
      accent
      title={`Batch ${batch.number}, ${batch.rows.filter((r) => r.rating || r.spoilt).length} of ${batch.pieces} looked at`}
    >
      <Doing key={keyOf(task)} job={job} batch={batch} task={task} rows={rowsOf(task)} deeds={deeds} />
      {others.length > 0 && (
        <div className="mt-4 flex flex-wrap items-center gap-2 border-t border-line pt-3">
          <span className="text-soft">Meanwhile:</span>
          {others.slice(0, 4).map((other) => (
            <Button key={keyOf(other)} onClick={() => setFront(other.ids.join())}>
              {meanwhile(other.kind, rowsOf(other))}
            </Button>
          ))}
        </div>
      )}
    </Card>
  )
}

function Doing({
  job,
  batch,
  task,
  rows,
  deeds,
}: {
  job: Job
  batch: Batch
  task: Task
  rows: Row[]
  deeds: BatchDeeds
}) {
  const process = useCatalogue().data?.processes.find((p) => p.key === job.process)
  const { kind } = task
  if (kind === 'close')
    return (
      <>
        <p className="text-3xl font-bold">All had their turn</p>
        <p className="mt-1 text-soft">Closed, it is written down, and the window learns from it.</p>
        <BigButton press={deeds.close} pending={deeds.pending}>
          Close the batch
        </BigButton>
      </>
    )
  const [row] = rows
  if (kind === 'look')
    return (
      <>
        <p className="mb-2 text-3xl font-bold">{meanwhile('look', rows)}</p>
        {row && (
          <PieceLook
            row={row}
            ticks={batch.ticks}
            picture={job.practice ? lookOf(row) : undefined}
            ratio={job.face.width_mm / job.face.height_mm}
            process={process}
            pending={deeds.pending}
            write={(look) => deeds.look(row, look)}
          />
        )}
      </>
    )
  const words = wordsOf(kind)
  const laser = row?.laser ?? null
  return (
    <>
      <p className="text-4xl leading-tight font-bold wrap-break-word">{namesOf(rows)}</p>
      <p className="mt-1 text-xl">
        {words.title}
        {rows.length === 1 && row?.pocket ? `, pocket ${row.pocket}` : ''}
        {(kind === 'wash' || kind === 'cool') && (
          <span className="block text-base text-soft">{batch.removal}</span>
        )}
      </p>
      {task.due_at && kind !== 'wash' && <Due task={task} batch={batch} rows={rows} laser={laser} />}
      {kind === 'burn' && !job.practice && <TurnFiles batch={batch} row={row} />}
      {laser ? null : (
        <BigButton
          press={() => deeds.move(rows, words.seen, words.to)}
          pending={deeds.pending}
          calm={kind === 'cool' || (!!batch.findings.length && kind === 'burn')}
        >
          {kind === 'burn' && job.practice ? 'Burn it' : words.press}
        </BigButton>
      )}
      <div className="mt-2 flex flex-wrap justify-between gap-2">
        {kind === 'watch' && (
          <Button
            className="min-h-14 grow border-2 border-ember text-lg text-ember"
            disabled={deeds.pending}
            onClick={() => deeds.move(rows, 'burning', 'stopped')}
          >
            {job.practice ? 'Stop the laser: it is lost' : 'Stopped: it is lost'}
          </Button>
        )}
        {(kind === 'place' || kind === 'frame' || kind === 'burn') && (
          <Button
            look="quiet"
            disabled={deeds.pending}
            onClick={() => deeds.move(rows, words.seen, 'skipped')}
          >
            Pass over
          </Button>
        )}
        {kind === 'burn' && (
          <Button look="quiet" disabled={deeds.pending} onClick={() => deeds.move(rows, 'framed', 'placed')}>
            Frame it again
          </Button>
        )}
      </div>
    </>
  )
}

function BigButton({
  press,
  pending,
  calm = false,
  children,
}: {
  press: () => void
  pending: boolean
  calm?: boolean
  children: string
}) {
  useShortcuts('Batch', { n: () => !pending && press() })
  return (
    <Button
      look={calm ? 'plain' : 'main'}
      className="mt-4 min-h-20 w-full text-2xl"
      disabled={pending}
      onClick={press}
    >
      {pending ? 'A moment …' : children}
      <kbd className="font-mono text-sm font-normal pointer-coarse:hidden">n</kbd>
    </Button>
  )
}

/** When a burn should end, or from when a piece is cool enough. */
function Due({ task, batch, rows, laser }: { task: Task; batch: Batch; rows: Row[]; laser: Row['laser'] }) {
  const now = useServerNow(batch.now)
  const due = task.due_at ?? batch.now
  const [row] = rows
  const over = Date.parse(due) <= now
  if (task.kind === 'cool') {
    const low = row && batch.cool_s ? Date.parse(row.since) + 1000 * (batch.cool_s[0] ?? 0) : null
    return (
      <p className="mt-2 text-lg">
        <span className="font-mono text-3xl font-bold">{countdown(due, now)}</span> until it is surely cool
        enough
        {low !== null && low > now && `, at the soonest at ${clock(new Date(low).toISOString())}`}. Water on
        hot glass cracks it.
      </p>
    )
  }
  const whole = (batch.burn_s ?? 0) * rows.length
  const gone = row ? (now - Date.parse(row.since)) / 1000 : 0
  const share = laser
    ? laser.lines
      ? laser.lines_done / laser.lines
      : 0
    : Math.min(1, whole ? gone / whole : 0)
  return (
    <>
      <Progress share={share} />
      <p className="mt-2 text-lg" aria-live="polite">
        {laser
          ? `${laser.state === 'queued' ? 'Waiting for a worker' : percent(share)}, the practice laser runs ${batch.pace.toFixed(0)} times real`
          : over
            ? `It should have ended at ${clock(due)}`
            : `Ends about ${clock(due)}, ${showMinutes(Math.max(0, whole - gone) / 60)} to go`}
        . Nobody leaves a burning piece.
      </p>
    </>
  )
}

function TurnFiles({ batch, row }: { batch: Batch; row: Row | undefined }) {
  if (!row || batch.artwork_id === null) return null
  const base = `/api/batches/${batch.id}/turns/${row.turn}/burn.gcode`
  const strips = batch.strips > 1 ? Array.from({ length: batch.strips }, (_, n) => n + 1) : [0]
  return (
    <div className="mt-3 flex flex-wrap gap-2">
      {strips.map((strip) => (
        <FileLink key={strip} href={strip ? `${base}?strip=${strip}` : base}>
          <Download aria-hidden className="size-4" />{' '}
          {strip ? `Strip ${strip}, G-code` : 'G-code of this turn'}
        </FileLink>
      ))}
    </div>
  )
}
