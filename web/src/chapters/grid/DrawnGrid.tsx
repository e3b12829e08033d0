import { Download } from 'lucide-react'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { isOver, useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Findings, Problem } from '../../ui/feedback'
import { GateCard } from '../../ui/GateCard'
import { Button, Card, Chapter, FileLink, LinkButton } from '../../ui/parts'
import { showMinutes } from '../../ui/units'
import { BurnCard } from './BurnCard'
import { useBurnStart } from './useBurnStart'
import { CellTable } from './CellTable'
import { GridFigures } from './GridFigures'
import { GridPicture } from '../../drawing/GridPicture'

type Grid = Schema<'GridOut'>

const FILES: [string, string][] = [
  ['gcode', 'G-code'],
  ['svg', 'SVG'],
  ['png', 'PNG'],
  ['json', 'JSON'],
]

export function DrawnGrid({
  job,
  grid,
  earlier,
  redesign,
}: {
  job: Job
  grid: Grid
  earlier: Grid[]
  redesign: () => void
}) {
  const drawn = grid.state === 'drawn'
  return (
    <Chapter
      doing={
        <>
          {job.practice && (drawn || (grid.burn && !isOver(grid.burn))) ? (
            <BurnCard job={job} grid={grid} redesign={redesign} />
          ) : drawn ? (
            <ToBurn job={job} grid={grid} redesign={redesign} />
          ) : (
            <Burned job={job} grid={grid} redesign={redesign} />
          )}
          {drawn && (
            <GateCard jobId={job.id}>
              <p className="mt-2 text-sm text-soft">
                Zero is the lower left corner of the piece. Frame it before you burn.
                {grid.mirrored && ' The files are mirrored: the mark is seen through the piece.'}
              </p>
            </GateCard>
          )}
          <FilesCard grid={grid} />
        </>
      }
      seeing={
        <>
          <Card title="On the spare, in proportion">
            <GridPicture grid={grid} piece={job.face} maxHeight={430} />
          </Card>
          <CellTable grid={grid} />
        </>
      }
      why={
        <>
          <Findings list={grid.findings} />
          <GridFigures grid={grid} />
          {earlier.length > 0 && (
            <Card title="Earlier grids">
              {earlier.map((g) => (
                <p key={g.id}>
                  {g.label}: {g.cells.filter((c) => c.rating === 'clean').length} of {g.cells.length} clean
                </p>
              ))}
            </Card>
          )}
        </>
      }
    />
  )
}

type PartProps = { job: Job; grid: Grid; redesign: () => void }

function ToBurn({ job, grid, redesign }: PartProps) {
  const navigate = useNavigate()
  const burned = useJobWrite(job.id, () =>
    body(api.POST('/api/grids/{grid_id}/burned', { params: { path: { grid_id: grid.id ?? 0 } } })),
  )
  return (
    <>
      <Card accent title={`Grid ${grid.label}`}>
        <p className="text-3xl leading-tight font-bold">
          Burn it on {grid.sheets.length > 1 ? `${grid.sheets.length} spares` : 'a spare'}
        </p>
        <p className="mt-1 text-soft">
          about {showMinutes(grid.burn_seconds / 60)}
          {grid.wait_s > 0 && `, ${grid.wait_s} s between cells`}
        </p>
        <Button
          look="main"
          className="mt-4 w-full text-lg"
          disabled={burned.isPending}
          onClick={() =>
            burned.mutate(undefined, { onSuccess: () => void navigate(`/jobs/${job.id}/reading`) })
          }
        >
          It is burned
        </Button>
        <Button look="quiet" className="w-full" onClick={redesign}>
          Change the grid
        </Button>
      </Card>
      {burned.isError && <Problem error={burned.error} />}
    </>
  )
}

function Burned({ job, grid, redesign }: PartProps) {
  const left = grid.cells.filter((c) => c.burned !== 'full').length
  return (
    <Card accent title={`Grid ${grid.label}`}>
      <p className="text-3xl leading-tight font-bold">
        {left ? 'Broken off' : grid.state === 'rated' ? 'Burned and rated' : 'Burned'}
      </p>
      <p className="mt-1 text-soft">
        {left
          ? `${grid.cells.length - left} of ${grid.cells.length} cells were burned to their end; only those are read.`
          : 'Its cells stay as they are for good.'}
      </p>
      {job.practice && grid.state === 'burned' && <CarryOn job={job} grid={grid} />}
      {grid.state === 'rated' ? (
        <>
          <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/window`}>
            To the window
          </LinkButton>
          <Button className="mt-2 w-full" onClick={redesign}>
            Draw another grid
          </Button>
        </>
      ) : (
        <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/reading`}>
          Read the cells
        </LinkButton>
      )}
    </Card>
  )
}

/** What was broken off goes on with the cells that were not begun, as long as the piece is not washed. */
function CarryOn({ job, grid }: { job: Job; grid: Grid }) {
  const waiting = grid.cells.filter((c) => c.burned === 'none').length
  const start = useBurnStart(job, grid)
  const trouble = grid.burn?.trouble
  if ((!waiting && !trouble) || grid.cells.some((c) => c.rating)) return null
  return (
    <div className="mt-3 rounded-xl bg-ember-tint p-3">
      {trouble && <p className="font-bold">{trouble}</p>}
      {waiting > 0 ? (
        <>
          <p>
            {waiting === 1 ? '1 cell was' : `${waiting} cells were`} not begun. Leave the piece where it lies,
            unwashed, and carry on with {waiting === 1 ? 'it' : 'them'}; the cell under way stays out.
          </p>
          <Button className="mt-2 w-full" disabled={start.isPending} onClick={() => start.mutate('quick')}>
            Carry on
          </Button>
        </>
      ) : (
        <p>It was the last cell: it stays out, and nothing is left to burn.</p>
      )}
      {start.error && <Problem error={start.error} />}
    </div>
  )
}

function FilesCard({ grid }: { grid: Grid }) {
  const files = `/api/grids/${grid.id}/files`
  return (
    <Card title="Files">
      {grid.sheets.map(({ spare }) => (
        <div key={spare} className="mb-2">
          {grid.sheets.length > 1 && <p className="mb-1 text-sm font-bold">Spare {spare}</p>}
          <div className="grid grid-cols-2 gap-2">
            {FILES.map(([kind, label]) => (
              <FileLink key={kind} href={`${files}/${kind}?spare=${spare}`}>
                <Download aria-hidden className="size-4" /> {label}
              </FileLink>
            ))}
          </div>
        </div>
      ))}
      <div className="grid grid-cols-2 gap-2">
        <FileLink href={`${files}/csv`}>
          <Download aria-hidden className="size-4" /> CSV
        </FileLink>
        <FileLink href={`${files}/pdf`}>
          <Download aria-hidden className="size-4" /> PDF sheet
        </FileLink>
      </div>
    </Card>
  )
}
