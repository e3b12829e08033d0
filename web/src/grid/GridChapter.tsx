import { Download } from 'lucide-react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../api/client'
import { useCatalogue, useDraft, useGrids, useJobWrite } from '../api/hooks'
import type { Job } from '../jobs/JobPage'
import { Findings, Loading, Problem } from '../ui/feedback'
import { RefusalScope, SelectField, TypedField } from '../ui/form'
import { Button, Card, Chapter, Figures, FileLink, LinkButton } from '../ui/parts'
import { figure, inUnit, showEnergy, showMinutes, toBase, useUnits } from '../ui/units'
import { CellTable } from './CellTable'
import { GridPicture } from './GridPicture'

export default function GridChapter({ job }: { job: Job }) {
  const grids = useGrids(job.id)
  const [again, setAgain] = useState(false)
  if (grids.isPending) return <Loading what="grids" />
  if (grids.isError) return <Problem error={grids.error} again={() => void grids.refetch()} />
  const last = grids.data.at(-1)
  if (!last || again)
    return (
      <DesignGrid
        job={job}
        first={!last}
        drawn={() => setAgain(false)}
        cancel={last && (() => setAgain(false))}
      />
    )
  return <DrawnGrid job={job} grid={last} earlier={grids.data.slice(0, -1)} redesign={() => setAgain(true)} />
}

function DesignGrid({
  job,
  first,
  drawn,
  cancel,
}: {
  job: Job
  first: boolean
  drawn: () => void
  cancel?: () => void
}) {
  const { interval } = useUnits()
  const sizes = useCatalogue().data?.grid_sizes ?? []
  const [kind, setKind] = useState('crossed')
  const [cells, setCells] = useState(12)
  const [lines, setLines] = useState(figure(inUnit(job.interval_mm, interval), interval.decimals))
  const [passes, setPasses] = useState('1')
  const [side, setSide] = useState('')
  const [gap, setGap] = useState('')
  const wish: Schema<'GridWishIn'> = {
    kind,
    cells,
    interval_mm: toBase(Number(lines), interval),
    passes: Number(passes),
    cell_mm: side ? Number(side) : null,
    gap_mm: gap ? Number(gap) : null,
  }
  const usable = [wish.interval_mm, wish.passes, wish.cell_mm ?? 1, wish.gap_mm ?? 1].every(Number.isFinite)
  const draft = useDraft(job.id, wish, usable)
  const draw = useJobWrite(job.id, (input: Schema<'GridWishIn'>) =>
    body(api.POST('/api/jobs/{job_id}/grids', { params: { path: { job_id: job.id } }, body: input })),
  )
  const error = draft.error ?? draw.error
  const grid = draft.isError ? undefined : draft.data
  return (
    <RefusalScope error={error}>
      <Chapter
        doing={
          <>
            <Card accent title={first ? 'The first grid' : 'The next grid'}>
              <p className="text-2xl leading-tight font-bold">
                {grid
                  ? `${grid.cells.length} cells, about ${showMinutes(grid.burn_seconds / 60)}`
                  : 'Choose the cells'}
              </p>
              <Button
                look="main"
                className="mt-4 w-full text-lg"
                disabled={!grid || draw.isPending}
                onClick={() => draw.mutate(wish, { onSuccess: drawn })}
              >
                Draw this grid
              </Button>
              {cancel && (
                <Button look="quiet" className="w-full" onClick={cancel}>
                  Keep the grid as it is
                </Button>
              )}
            </Card>
            <Card title="Cells">
              <div className="grid gap-3">
                <SelectField
                  label="How they are chosen"
                  name="kind"
                  value={kind}
                  onChange={(e) => setKind(e.target.value)}
                >
                  <option value="crossed">crossed in energy and dwell</option>
                  <option value="blind">blind rectangle, 9 × 9</option>
                </SelectField>
                {kind === 'crossed' && (
                  <SelectField
                    label="How many"
                    name="cells"
                    value={cells}
                    onChange={(e) => setCells(Number(e.target.value))}
                  >
                    {sizes.map((size) => (
                      <option key={size}>{size}</option>
                    ))}
                  </SelectField>
                )}
                <div className="grid grid-cols-2 gap-3">
                  <TypedField
                    label="Lines"
                    name="interval_mm"
                    unit={interval.label}
                    inputMode="decimal"
                    value={lines}
                    set={setLines}
                  />
                  <TypedField
                    label="Passes"
                    name="passes"
                    inputMode="numeric"
                    value={passes}
                    set={setPasses}
                  />
                  <TypedField
                    label="Cell"
                    name="cell_mm"
                    unit="mm"
                    inputMode="decimal"
                    placeholder={grid ? String(grid.cell_mm) : 'as fits'}
                    value={side}
                    set={setSide}
                  />
                  <TypedField
                    label="Gap"
                    name="gap_mm"
                    unit="mm"
                    inputMode="decimal"
                    placeholder={grid ? String(grid.gap_mm) : 'as fits'}
                    value={gap}
                    set={setGap}
                  />
                </div>
              </div>
            </Card>
          </>
        }
        seeing={
          <>
            {error && <Problem error={error} />}
            {grid && (
              <Card title="On the spare, in proportion">
                <GridPicture grid={grid} piece={job.face} maxHeight={430} />
              </Card>
            )}
            {grid && <CellTable grid={grid} />}
          </>
        }
        why={
          <>
            <Card title="Why these cells">
              <p>
                {kind === 'crossed'
                  ? 'Each row is one speed. Along it the energy grows by equal factors, across what this process may need and this machine can give. Every other row is shifted by half a step, so no two rows ask the same.'
                  : 'The usual practice: power from 60 to 100 % against speed, in even steps. It costs most and tells least.'}
              </p>
            </Card>
            {grid && <GridFigures grid={grid} />}
            <Findings list={grid?.findings ?? []} />
          </>
        }
      />
    </RefusalScope>
  )
}

function DrawnGrid({
  job,
  grid,
  earlier,
  redesign,
}: {
  job: Job
  grid: Schema<'GridOut'>
  earlier: Schema<'GridOut'>[]
  redesign: () => void
}) {
  const navigate = useNavigate()
  const gridId = grid.id ?? 0
  const burned = useJobWrite(job.id, () =>
    body(api.POST('/api/grids/{grid_id}/burned', { params: { path: { grid_id: gridId } } })),
  )
  const files = `/api/grids/${gridId}/files`
  const drawn = grid.state === 'drawn'
  return (
    <Chapter
      doing={
        <>
          <Card accent title={`Grid ${grid.label}`}>
            {drawn ? (
              <>
                <p className="text-3xl leading-tight font-bold">Burn it on a spare</p>
                <p className="mt-1 text-soft">
                  about {showMinutes(grid.burn_seconds / 60)}, coat dry, extraction on
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
              </>
            ) : (
              <>
                <p className="text-3xl leading-tight font-bold">
                  {grid.state === 'rated' ? 'Burned and rated' : 'Burned'}
                </p>
                <p className="mt-1 text-soft">Its cells stay as they are for good.</p>
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
                    Rate the cells
                  </LinkButton>
                )}
              </>
            )}
          </Card>
          {burned.isError && <Problem error={burned.error} />}
          <Card title="Files">
            <div className="grid grid-cols-2 gap-2">
              {[
                ['gcode', 'G-code'],
                ['svg', 'SVG'],
                ['csv', 'CSV'],
                ['pdf', 'PDF sheet'],
              ].map(([kind, label]) => (
                <FileLink key={kind} href={`${files}/${kind}`}>
                  <Download aria-hidden className="size-4" /> {label}
                </FileLink>
              ))}
            </div>
          </Card>
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
          <GridFigures grid={grid} />
          <Card title="Before the beam goes on">
            <p>
              Eyewear for this beam on everyone in the room. Extraction running. Coat dry. Somebody stays with
              it.
            </p>
            <p className="mt-2 text-sm text-soft">
              Zero is the lower left corner of the piece. Frame it before you burn.
            </p>
          </Card>
          <Findings list={grid.findings} />
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

function GridFigures({ grid }: { grid: Schema<'GridOut'> }) {
  const { showSpeed } = useUnits()
  const energies = grid.cells.map((c) => c.energy_j_mm2)
  const speeds = grid.cells.map((c) => c.speed_mm_s)
  return (
    <Card title="Figures">
      <Figures
        rows={[
          ['Energy from', showEnergy(Math.min(...energies))],
          ['to', showEnergy(Math.max(...energies))],
          ['Fastest', showSpeed(Math.max(...speeds))],
          ['Slowest', showSpeed(Math.min(...speeds))],
          ['Cell, gap', `${grid.cell_mm}, ${grid.gap_mm} mm`],
          ['Codes at', `${grid.label_power_pct} %, ${showSpeed(grid.label_speed_mm_s)}`],
        ]}
      />
    </Card>
  )
}
