import { Upload } from 'lucide-react'
import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useCatalogue, useGridReading, useGrids } from '../../api/hooks'
import { neighbour, nextUnrated } from '../../drawing/cellWalk'
import { GridPicture } from '../../drawing/GridPicture'
import type { Job } from '../../api/types'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { Button, Card, Chapter, LinkButton } from '../../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../../drawing/RatingMark'
import { useShortcuts } from '../../ui/shortcuts'
import { CellEvidence } from './CellEvidence'
import { PhotosCard } from './PhotosCard'
import { RATINGS, RateCard, SeenCard } from './RateCard'
import { TuningCard } from './TuningCard'
import { useGridWrites } from './useGridWrites'

type Grid = Schema<'GridOut'>
type Cell = Schema<'CellOut'>

export default function ReadingChapter({ job }: { job: Job }) {
  const grids = useGrids(job.id)
  if (grids.isPending) return <Loading what="grid" />
  if (grids.isError) return <Problem error={grids.error} again={() => void grids.refetch()} />
  const grid = grids.data.findLast((g) => g.state !== 'drawn')
  if (!grid)
    return (
      <Empty title="No grid is burned yet">
        <p>Draw one, burn it on a spare, wash it, then read its cells here.</p>
        <LinkButton look="main" className="mt-4" to={`/jobs/${job.id}/grid`}>
          To the grid
        </LinkButton>
      </Empty>
    )
  return <ReadGrid key={grid.id} job={job} grid={grid} />
}

function ReadGrid({ job, grid }: { job: Job; grid: Grid }) {
  const [code, setCode] = useState(() => nextUnrated(grid.cells, null) ?? grid.cells[0]?.code ?? '')
  const catalogue = useCatalogue().data
  const process = catalogue?.processes.find((p) => p.key === job.process)
  const reading = useGridReading(job.id, grid.id ?? 0)
  const { rate, undo, upload, takeOver } = useGridWrites(job.id, grid)
  const cell = grid.cells.find((c) => c.code === code) ?? grid.cells[0]
  const whole = grid.cells.filter((c) => c.burned === 'full')
  const left = whole.filter((c) => !c.rating).length
  const failed = rate.error ?? undo.error ?? upload.error ?? takeOver.error
  const seen = reading.data?.cells.find((c) => c.code === cell?.code)

  const write = (
    target: Cell,
    change: Partial<Pick<Cell, 'rating' | 'defects' | 'heard_snapping' | 'strokes'>>,
  ) =>
    rate.mutate({
      code: target.code,
      rating: target.rating ?? null,
      defects: target.defects,
      heard_snapping: target.heard_snapping,
      strokes: target.strokes,
      ...change,
    })
  const judge = (rating: Rating | null, defects?: string[]) => {
    if (!cell || cell.burned !== 'full') return
    write(cell, defects ? { rating, defects } : { rating })
    if (rating) setCode(nextUnrated(grid.cells, cell.code) ?? cell.code)
  }
  const takeBack = grid.rating_event && !undo.isPending ? () => undo.mutate() : undefined
  const take = () => seen && judge(seen.proposal.rating, seen.proposal.defects)
  const go = (rows: number, columns: number) => cell && setCode(neighbour(grid.cells, cell, rows, columns))
  useShortcuts('Reading', {
    ArrowUp: () => go(-1, 0),
    ArrowDown: () => go(1, 0),
    ArrowLeft: () => go(0, -1),
    ArrowRight: () => go(0, 1),
    '1': () => judge('faint'),
    '2': () => judge('clean'),
    '3': () => judge('harsh'),
    '0': () => judge(null),
    p: () => take(),
    s: () => cell?.burned === 'full' && write(cell, { heard_snapping: !cell.heard_snapping }),
    z: () => takeBack?.(),
  })
  if (!cell) return null
  const sure = reading.data?.cells.filter(
    (r) => r.proposal.sure && whole.some((c) => c.code === r.code && !c.rating),
  ).length
  return (
    <Chapter
      doing={
        <>
          <RateCard
            grid={grid}
            cell={cell}
            left={left}
            judge={judge}
            proposal={seen?.proposal}
            take={take}
            undo={takeBack}
            onward={left === 0 ? `/jobs/${job.id}/window` : undefined}
          />
          {failed && <Problem error={failed} />}
          {!!sure && (
            <Button className="w-full" disabled={takeOver.isPending} onClick={() => takeOver.mutate()}>
              Take the {sure} sure proposal{sure === 1 ? '' : 's'}
            </Button>
          )}
          {process && <SeenCard cell={cell} process={process} write={(change) => write(cell, change)} />}
        </>
      }
      seeing={
        <>
          {seen && <CellEvidence seen={seen} cell={cell} />}
          <Card
            title="The grid as it lies before you"
            aside={
              <span className="flex gap-4 text-sm">
                {RATINGS.map(({ rating }) => (
                  <span key={rating} className={`flex items-center gap-1.5 ${RATING_INK[rating]}`}>
                    <RatingIcon rating={rating} />
                    {grid.cells.filter((c) => c.rating === rating).length}
                  </span>
                ))}
              </span>
            }
          >
            <GridPicture grid={grid} piece={job.face} selected={cell.code} select={setCode} maxHeight={420} />
          </Card>
          {reading.isError && <Problem error={reading.error} again={() => void reading.refetch()} />}
          {reading.data && <PhotosCard job={job} grid={grid} reading={reading.data} selected={cell.code} />}
        </>
      }
      why={
        <>
          {process && (
            <Card title="How to judge">
              <p>{process.judge}</p>
              <p className="mt-2">
                <b className="text-frost">Faint:</b> {process.too_little}.
              </p>
              <p className="mt-1">
                <b className="text-glaze">Clean:</b> {process.clean}.
              </p>
              <p className="mt-1">
                <b className="text-ember">Harsh:</b> {process.too_much}.
              </p>
              <p className="mt-2 text-sm text-soft">
                In doubt between two? Take the worse. A slip is no harm: the fit allows for a few.
              </p>
            </Card>
          )}
          {reading.data && <TuningCard jobId={job.id} gridId={grid.id ?? 0} reading={reading.data} />}
          <Card title="From a table">
            <p className="text-soft">The CSV or JSON of this grid, with faint, clean or harsh as rating.</p>
            <label className="mt-3 inline-flex min-h-11 w-full cursor-pointer items-center justify-center gap-2 rounded-xl border border-line px-4 font-bold focus-within:outline-3 focus-within:outline-frost hover:border-soft">
              <Upload aria-hidden className="size-4" /> Import ratings
              <input
                type="file"
                accept=".csv,.json,text/csv,application/json"
                className="sr-only"
                onChange={(event) => {
                  const file = event.target.files?.[0]
                  if (file) upload.mutate(file)
                  event.target.value = ''
                }}
              />
            </label>
          </Card>
        </>
      }
    />
  )
}
