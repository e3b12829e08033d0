import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Undo2, Upload, Volume2 } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { api, body, uploadRatings, type Schema } from '../api/client'
import { useCatalogue, useGrids } from '../api/hooks'
import { GridPicture } from '../grid/GridPicture'
import type { Job } from '../jobs/JobPage'
import { Empty, Loading, Problem } from '../ui/feedback'
import { Button, Card, Chapter, Figures, LinkButton } from '../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../ui/RatingMark'
import { useShortcuts } from '../ui/shortcuts'
import { showEnergy, useUnits } from '../ui/units'
import { neighbour, nextUnrated } from './walk'

type Grid = Schema<'GridOut'>
type Cell = Schema<'CellOut'>
const RATINGS: { rating: Rating; key: string }[] = [
  { rating: 'faint', key: '1' },
  { rating: 'clean', key: '2' },
  { rating: 'harsh', key: '3' },
]

export default function ReadingChapter({ job }: { job: Job }) {
  const grids = useGrids(job.id)
  if (grids.isPending) return <Loading what="grid" />
  if (grids.isError) return <Problem error={grids.error} again={() => void grids.refetch()} />
  const grid = grids.data.findLast((g) => g.state !== 'drawn')
  if (!grid)
    return (
      <Empty title="No grid is burned yet">
        <p>Draw one, burn it on a spare, wash it, then rate its cells here.</p>
        <LinkButton look="main" className="mt-4" to={`/jobs/${job.id}/grid`}>
          To the grid
        </LinkButton>
      </Empty>
    )
  return <RateGrid key={grid.id} job={job} grid={grid} />
}

/** Writes of one grid, one after the other; each answer is the whole grid, shown at once. */
function useGridWrites(job: Job, grid: Grid) {
  const client = useQueryClient()
  const scope = { id: `grid-${grid.id}` }
  const onSuccess = (changed: Grid) => {
    client.setQueryData<Grid[]>(['job', job.id, 'grids'], (all) =>
      all?.map((g) => (g.id === changed.id ? changed : g)),
    )
    void client.invalidateQueries({ queryKey: ['job', job.id], exact: true })
    void client.invalidateQueries({ queryKey: ['job', job.id, 'window'] })
    void client.invalidateQueries({ queryKey: ['bench'] })
  }
  const onError = () => client.invalidateQueries({ queryKey: ['job', job.id, 'grids'] })
  const path = { path: { grid_id: grid.id ?? 0 } }
  const latest = (code: string) =>
    client
      .getQueryData<Grid[]>(['job', job.id, 'grids'])
      ?.find((g) => g.id === grid.id)
      ?.cells.find((c) => c.code === code)
  return {
    rate: useMutation({
      scope,
      mutationFn: ({
        code,
        ...seen
      }: {
        code: string
        rating: Rating | null
        defects: string[]
        heard_snapping: boolean
      }) =>
        body(
          api.PUT('/api/grids/{grid_id}/cells/{code}', {
            params: { path: { ...path.path, code } },
            body: { ...seen, version: latest(code)?.version ?? 0 },
          }),
        ),
      onSuccess,
      onError,
    }),
    undo: useMutation({
      scope,
      mutationFn: () => body(api.POST('/api/grids/{grid_id}/undo', { params: path })),
      onSuccess,
      onError,
    }),
    upload: useMutation({ scope, mutationFn: (file: File) => uploadRatings(grid.id ?? 0, file), onSuccess }),
  }
}

function RateGrid({ job, grid }: { job: Job; grid: Grid }) {
  const [code, setCode] = useState(() => nextUnrated(grid.cells, null) ?? grid.cells[0]?.code ?? '')
  const catalogue = useCatalogue().data
  const process = catalogue?.processes.find((p) => p.key === job.process)
  const labels = new Map(catalogue?.defects.map((d) => [d.key, d.label]))
  const { rate, undo, upload } = useGridWrites(job, grid)
  const cell = grid.cells.find((c) => c.code === code) ?? grid.cells[0]
  const left = grid.cells.filter((c) => !c.rating).length
  const failed = rate.error ?? undo.error ?? upload.error

  const write = (target: Cell, change: Partial<Pick<Cell, 'rating' | 'defects' | 'heard_snapping'>>) =>
    rate.mutate({
      code: target.code,
      rating: target.rating ?? null,
      defects: target.defects,
      heard_snapping: target.heard_snapping,
      ...change,
    })
  const judge = (rating: Rating | null) => {
    if (!cell) return
    write(cell, { rating })
    if (rating) setCode(nextUnrated(grid.cells, cell.code) ?? cell.code)
  }
  const go = (rows: number, columns: number) => cell && setCode(neighbour(grid.cells, cell, rows, columns))
  useShortcuts({
    ArrowUp: () => go(-1, 0),
    ArrowDown: () => go(1, 0),
    ArrowLeft: () => go(0, -1),
    ArrowRight: () => go(0, 1),
    '1': () => judge('faint'),
    '2': () => judge('clean'),
    '3': () => judge('harsh'),
    '0': () => judge(null),
    s: () => cell && write(cell, { heard_snapping: !cell.heard_snapping }),
    z: () => undo.mutate(),
  })
  if (!cell) return null
  const toggle = (defect: string) =>
    write(cell, {
      defects: cell.defects.includes(defect)
        ? cell.defects.filter((d) => d !== defect)
        : [...cell.defects, defect],
    })
  return (
    <Chapter
      doing={
        <>
          <Card accent title={`Grid ${grid.label}, ${left ? `${left} to rate` : 'all rated'}`}>
            <CellHead cell={cell} />
            <div className="mt-3 grid gap-2">
              {RATINGS.map(({ rating, key }) => (
                <button
                  key={rating}
                  onClick={() => judge(rating)}
                  aria-pressed={cell.rating === rating}
                  className={`flex min-h-13 items-center gap-3 rounded-xl border px-4 text-left text-lg ${
                    cell.rating === rating ? 'border-2 border-ink font-bold' : 'border-line hover:border-soft'
                  }`}
                >
                  <RatingIcon rating={rating} />
                  <span className={`grow ${RATING_INK[rating]} font-bold`}>{rating}</span>
                  <kbd className="font-mono text-sm text-soft">{key}</kbd>
                </button>
              ))}
            </div>
            <div className="mt-2 flex justify-between">
              <Button look="quiet" disabled={!cell.rating} onClick={() => judge(null)}>
                Clear
              </Button>
              <Button look="quiet" disabled={!grid.can_undo || undo.isPending} onClick={() => undo.mutate()}>
                <Undo2 aria-hidden className="size-4" /> Take the last back
              </Button>
            </div>
            {left === 0 && (
              <LinkButton look="main" className="mt-3 w-full text-lg" to={`/jobs/${job.id}/window`}>
                To the window
              </LinkButton>
            )}
          </Card>
          {failed && <Problem error={failed} />}
          <Card title={`Seen and heard at ${cell.code}`}>
            <div className="flex flex-wrap gap-2">
              {process?.defects.map((defect) => (
                <Chip key={defect} on={cell.defects.includes(defect)} toggle={() => toggle(defect)}>
                  {labels.get(defect) ?? defect}
                </Chip>
              ))}
              <Chip
                on={cell.heard_snapping}
                toggle={() => write(cell, { heard_snapping: !cell.heard_snapping })}
              >
                <Volume2 aria-hidden className="mr-1 inline size-4" />
                heard snapping
              </Chip>
            </div>
          </Card>
        </>
      }
      seeing={
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
          <GridPicture grid={grid} piece={job.face} selected={cell.code} select={setCode} maxHeight={520} />
        </Card>
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
          <Card title="From a table">
            <p className="text-soft">
              The CSV of this grid, with faint, clean or harsh in the rating column.
            </p>
            <label className="mt-3 inline-flex min-h-11 w-full cursor-pointer items-center justify-center gap-2 rounded-xl border border-line px-4 font-bold focus-within:outline-3 focus-within:outline-frost hover:border-soft">
              <Upload aria-hidden className="size-4" /> Import a rated CSV
              <input
                type="file"
                accept=".csv,text/csv"
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

function CellHead({ cell }: { cell: Cell }) {
  const { showSpeed } = useUnits()
  return (
    <>
      <p className="font-mono text-4xl font-bold" aria-live="polite">
        {cell.code}
      </p>
      <Figures
        rows={[
          ['Power', `${cell.power_pct} %`],
          ['Speed', showSpeed(cell.speed_mm_s)],
          ['Energy', showEnergy(cell.energy_j_mm2)],
        ]}
      />
    </>
  )
}

function Chip({ on, toggle, children }: { on: boolean; toggle: () => void; children: ReactNode }) {
  return (
    <button
      onClick={toggle}
      aria-pressed={on}
      className={`min-h-11 rounded-full border px-3 ${on ? 'border-ink bg-ink text-paper' : 'border-line hover:border-soft'}`}
    >
      {children}
    </button>
  )
}
