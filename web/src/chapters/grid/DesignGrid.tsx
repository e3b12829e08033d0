import { useForm, useWatch, type UseFormReturn } from 'react-hook-form'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useDraft, useJobWrite, useMachines } from '../../api/hooks'
import type { Job } from '../../api/types'
import { drawnGrid } from './drawnGrid'
import { Findings, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TextField, TickField } from '../../ui/form'
import { Button, Card, Chapter } from '../../ui/parts'
import { figure, inUnit, showMinutes, toBase, useUnits } from '../../ui/units'
import { useSettled } from '../../ui/useSettled'
import { AS_FAR_AS_IT_GOES, BlindFields, blindWish, type BlindTyped } from './BlindFields'
import { BringGrid } from './BringGrid'
import { CellTable } from './CellTable'
import { FactorPick } from './FactorPick'
import { GridFigures } from './GridFigures'
import { SearchAhead } from './SearchAhead'
import { GridPicture } from '../../drawing/GridPicture'

const WHY: Record<string, string> = {
  next: 'The cells that tell most, for the time that they burn, about which setting keeps your pieces clean, from all that is known so far. They fill one fresh spare: a further cell costs minutes, a further spare its blank, coats and drying. Rate them, and the next are chosen from what they did. Patches are as large as a fill where the spare has room, so that they heat as one.',
  crossed:
    'Each row is one speed. Along it the energy grows by equal factors, across what this process may need and this machine can give. Every other row is shifted by half a step, so no two rows ask the same.',
  factors:
    'What sets energy runs along the columns in equal factors, as far as process and machine reach together. The other things change down the rows. Cells out of focus or in grey are kept for your own eyes; those under other coats tell the window how film counts.',
  blind:
    'The usual practice: power against speed, in even steps over all that your machine can do, or as you type it. It costs most and tells least.',
}

/** The wish as typed: figures are texts until they are asked for. */
interface Typed extends BlindTyped {
  kind: string
  factors: string[]
  /** None: as many as pay. */
  cells: number | null
  interval_mm: string
  passes: string
  cell_mm: string
  gap_mm: string
  wait_s: string
  mirrored: boolean | null
}

function useWish(job: Job) {
  const { interval, speed } = useUnits()
  const reach = useMachines().data?.find((m) => m.id === job.machine_id)
  const form = useForm<Typed>({
    defaultValues: {
      kind: 'next',
      factors: ['power', 'passes'],
      cells: null,
      interval_mm: figure(inUnit(job.interval_mm, interval), interval.decimals),
      passes: '1',
      cell_mm: '',
      gap_mm: '',
      wait_s: '0',
      mirrored: null,
      ...AS_FAR_AS_IT_GOES,
    },
  })
  const typed = useWatch({ control: form.control }) as Typed
  const wish: Schema<'GridWishIn'> = {
    kind: typed.kind,
    cells: typed.cells,
    factors: typed.kind === 'factors' ? typed.factors : [],
    interval_mm: toBase(Number(typed.interval_mm), interval),
    passes: Number(typed.passes),
    cell_mm: typed.cell_mm ? Number(typed.cell_mm) : null,
    gap_mm: typed.gap_mm ? Number(typed.gap_mm) : null,
    wait_s: Number(typed.wait_s),
    mirrored: typed.mirrored,
    blind: typed.kind === 'blind' ? blindWish(typed, reach, speed) : null,
  }
  const figures = [
    wish.interval_mm,
    wish.passes,
    wish.cell_mm ?? 1,
    wish.gap_mm ?? 1,
    wish.wait_s ?? 0,
    ...Object.values(wish.blind ?? {}),
  ]
  const usable = figures.every(Number.isFinite) && (typed.kind !== 'factors' || typed.factors.length >= 2)
  return { form, typed, wish, usable, reach }
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
  const { form, typed, wish, usable, reach } = useWish(job)
  const asked = useSettled(wish)
  const draft = useDraft(job.id, asked, usable)
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
  const settled = JSON.stringify(asked) === JSON.stringify(wish)
  const grid = draft.isError || !usable ? undefined : draft.data
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
              {grid?.ahead && (
                <SearchAhead
                  job={job}
                  ahead={grid.ahead}
                  cells={typed.cells}
                  choose={(cells) => form.setValue('cells', cells)}
                />
              )}
              <Button
                look="main"
                className="mt-4 w-full text-lg"
                disabled={!grid || !settled || draw.isPending}
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
            <WishForm form={form} typed={typed} grid={grid} reach={reach} />
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
              <p>{WHY[typed.kind]}</p>
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

function WishForm({
  form,
  typed,
  grid,
  reach,
}: {
  form: UseFormReturn<Typed>
  typed: Typed
  grid: Schema<'GridOut'> | undefined
  reach: Schema<'MachineOut'> | undefined
}) {
  const { interval } = useUnits()
  const { register, setValue } = form
  const catalogue = useCatalogue().data
  const three = typed.kind === 'factors' && typed.factors.length === 3
  const table = (three ? catalogue?.grid_sizes_of_three : catalogue?.grid_sizes) ?? []
  const sizes = typed.kind === 'next' ? (catalogue?.grid_sizes_of_next ?? []) : table
  const choose = (factors: string[]) => {
    setValue('factors', factors)
    const allowed = factors.length === 3 ? catalogue?.grid_sizes_of_three : catalogue?.grid_sizes
    if (allowed && !allowed.includes(Number(typed.cells))) setValue('cells', 12)
  }
  const mirrored = typed.mirrored ?? grid?.mirrored ?? false
  return (
    <Card title="Cells">
      <div className="grid gap-3">
        <SelectField
          label="What they vary"
          {...register('kind', {
            onChange: (e) => setValue('cells', e.target.value === 'next' ? null : 12),
          })}
        >
          <option value="next">those that tell most, as Keen Coat chooses</option>
          <option value="crossed">energy crossed with dwell</option>
          <option value="factors">two or three things of yours</option>
          <option value="blind">blind rectangle, even steps</option>
        </SelectField>
        {typed.kind === 'factors' && <FactorPick chosen={typed.factors} choose={choose} />}
        {typed.kind === 'blind' && <BlindFields register={register} reach={reach} />}
        {typed.kind !== 'blind' && (
          <SelectField
            label="How many"
            name="cells"
            value={typed.cells ?? ''}
            onChange={(e) => setValue('cells', e.target.value ? Number(e.target.value) : null)}
          >
            {typed.kind === 'next' && <option value="">as many as pay</option>}
            {sizes.map((size) => (
              <option key={size}>{size}</option>
            ))}
          </SelectField>
        )}
        <div className="grid grid-cols-2 gap-3">
          <TextField label="Lines" unit={interval.label} inputMode="decimal" {...register('interval_mm')} />
          <TextField label="Passes" inputMode="numeric" {...register('passes')} />
          <TextField
            label="Patch"
            unit="mm"
            inputMode="decimal"
            placeholder={grid ? String(grid.cell_mm) : 'as fits'}
            {...register('cell_mm')}
          />
          <TextField
            label="Gap"
            unit="mm"
            inputMode="decimal"
            placeholder={grid ? String(grid.gap_mm) : 'as fits'}
            {...register('gap_mm')}
          />
          <TextField label="Wait between" unit="s" inputMode="decimal" {...register('wait_s')} />
        </div>
        <TickField checked={mirrored} onChange={(e) => setValue('mirrored', e.target.checked)}>
          Mirrored: the mark is seen through the piece
        </TickField>
      </div>
    </Card>
  )
}
