import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useDraft, useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { drawnGrid } from './drawnGrid'
import { Findings, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TickField, TypedField } from '../../ui/form'
import { Button, Card, Chapter } from '../../ui/parts'
import { figure, inUnit, showMinutes, toBase, useUnits } from '../../ui/units'
import { useSettled } from '../../ui/useSettled'
import { BringGrid } from './BringGrid'
import { CellTable } from './CellTable'
import { FactorPick } from './FactorPick'
import { GridFigures } from './GridFigures'
import { GridPicture } from '../../drawing/GridPicture'

const WHY: Record<string, string> = {
  next: 'The few cells that tell most about which setting keeps your pieces clean, from all that is known so far. They share one fresh spare; rate them, and the next few are chosen from what they did. Patches are as large as a fill, so that they heat as one.',
  crossed:
    'Each row is one speed. Along it the energy grows by equal factors, across what this process may need and this machine can give. Every other row is shifted by half a step, so no two rows ask the same.',
  factors:
    'What sets energy runs along the columns in equal factors, as far as process and machine reach together. The other things change down the rows. Cells out of focus or in grey are kept for your own eyes; those under other coats tell the window how film counts.',
  blind:
    'The usual practice: power from 60 to 100 % against speed, in even steps. It costs most and tells least.',
}

/** The wish as typed: texts until they are asked for as figures. */
function useWish(job: Job) {
  const { interval } = useUnits()
  const [kind, setKind] = useState('next')
  const [factors, setFactors] = useState<string[]>(['power', 'passes'])
  const [cells, setCells] = useState(job.grid ? 4 : 5)
  const [lines, setLines] = useState(figure(inUnit(job.interval_mm, interval), interval.decimals))
  const [passes, setPasses] = useState('1')
  const [side, setSide] = useState('')
  const [gap, setGap] = useState('')
  const [wait, setWait] = useState('0')
  const [mirrored, setMirrored] = useState<boolean | null>(null)
  const wish: Schema<'GridWishIn'> = {
    kind,
    cells,
    factors: kind === 'factors' ? factors : [],
    interval_mm: toBase(Number(lines), interval),
    passes: Number(passes),
    cell_mm: side ? Number(side) : null,
    gap_mm: gap ? Number(gap) : null,
    wait_s: Number(wait),
    mirrored,
  }
  const figures = [wish.interval_mm, wish.passes, wish.cell_mm ?? 1, wish.gap_mm ?? 1, wish.wait_s ?? 0]
  const usable = figures.every(Number.isFinite) && (kind !== 'factors' || factors.length >= 2)
  return {
    wish,
    usable,
    kind,
    setKind,
    factors,
    setFactors,
    cells,
    setCells,
    lines,
    setLines,
    passes,
    setPasses,
    side,
    setSide,
    gap,
    setGap,
    wait,
    setWait,
    mirrored,
    setMirrored,
  }
}

export function DesignGrid({
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
  const form = useWish(job)
  const wish = useSettled(form.wish)
  const draft = useDraft(job.id, wish, form.usable)
  const draw = useJobWrite(job.id, (input: Schema<'GridWishIn'>) =>
    body(
      api.POST('/api/jobs/{job_id}/grids', {
        params: { path: { job_id: job.id } },
        body: { ...input, replaces: drawnGrid(job) },
      }),
    ),
  )
  const error = draft.error ?? draw.error
  // What is drawn is what is seen: while figures are being typed there is nothing to draw yet.
  const settled = JSON.stringify(wish) === JSON.stringify(form.wish)
  const grid = draft.isError || !form.usable ? undefined : draft.data
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
                disabled={!grid || !settled || draw.isPending}
                onClick={() => draw.mutate(form.wish, { onSuccess: drawn })}
              >
                Draw this grid
              </Button>
              {cancel && (
                <Button look="quiet" className="w-full" onClick={cancel}>
                  Keep the grid as it is
                </Button>
              )}
            </Card>
            <WishForm form={form} grid={grid} />
            <BringGrid job={job} done={drawn} />
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
              <p>{WHY[form.kind]}</p>
              <p className="mt-2 text-sm text-soft">
                Each cell is a filled patch with a sample of fine strokes under it: strokes alone mislead
                about fills. The frame lets a photo be squared up; its filled corner is the upper left.
              </p>
            </Card>
            <Findings list={grid?.findings ?? []} />
            {grid && <GridFigures grid={grid} />}
          </>
        }
      />
    </RefusalScope>
  )
}

function WishForm({ form, grid }: { form: ReturnType<typeof useWish>; grid: Schema<'GridOut'> | undefined }) {
  const { interval } = useUnits()
  const catalogue = useCatalogue().data
  const three = form.kind === 'factors' && form.factors.length === 3
  const few = [3, 4, 5, 6, 7, 8, 9, 10]
  const table = (three ? catalogue?.grid_sizes_of_three : catalogue?.grid_sizes) ?? []
  const sizes = form.kind === 'next' ? few : table
  const choose = (factors: string[]) => {
    form.setFactors(factors)
    const allowed = factors.length === 3 ? catalogue?.grid_sizes_of_three : catalogue?.grid_sizes
    if (allowed && !allowed.includes(form.cells)) form.setCells(12)
  }
  const mirrored = form.mirrored ?? grid?.mirrored ?? false
  return (
    <Card title="Cells">
      <div className="grid gap-3">
        <SelectField
          label="What they vary"
          name="kind"
          value={form.kind}
          onChange={(e) => {
            form.setKind(e.target.value)
            form.setCells(e.target.value === 'next' ? 5 : 12)
          }}
        >
          <option value="next">let Keen Coat choose, few at a time</option>
          <option value="crossed">energy crossed with dwell</option>
          <option value="factors">two or three things of yours</option>
          <option value="blind">blind rectangle, 9 × 9</option>
        </SelectField>
        {form.kind === 'factors' && <FactorPick chosen={form.factors} choose={choose} />}
        {form.kind !== 'blind' && (
          <SelectField
            label="How many"
            name="cells"
            value={form.cells}
            onChange={(e) => form.setCells(Number(e.target.value))}
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
            value={form.lines}
            set={form.setLines}
          />
          <TypedField
            label="Passes"
            name="passes"
            inputMode="numeric"
            value={form.passes}
            set={form.setPasses}
          />
          <TypedField
            label="Patch"
            name="cell_mm"
            unit="mm"
            inputMode="decimal"
            placeholder={grid ? String(grid.cell_mm) : 'as fits'}
            value={form.side}
            set={form.setSide}
          />
          <TypedField
            label="Gap"
            name="gap_mm"
            unit="mm"
            inputMode="decimal"
            placeholder={grid ? String(grid.gap_mm) : 'as fits'}
            value={form.gap}
            set={form.setGap}
          />
          <TypedField
            label="Wait between"
            name="wait_s"
            unit="s"
            inputMode="decimal"
            value={form.wait}
            set={form.setWait}
          />
        </div>
        <TickField checked={mirrored} onChange={(e) => form.setMirrored(e.target.checked)}>
          Mirrored: the mark is seen through the piece
        </TickField>
      </div>
    </Card>
  )
}
