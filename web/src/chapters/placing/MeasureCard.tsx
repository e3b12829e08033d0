import { Plus, X } from 'lucide-react'
import type { Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { FigureField } from '../../ui/FigureField'
import { SelectField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { PracticeTape } from '../practice/PracticeTape'
import type { Edit, Placing } from './usePlacingEdit'

type Girth = Schema<'GirthIO'>

/** The wall as tape and calliper have it, at heights from the foot. */
export function MeasureCard({
  job,
  edit,
  round,
}: {
  job: Job
  edit: Edit
  round: NonNullable<Placing['round']>
}) {
  const girths = edit.spec.girths ?? []
  const put = (at: number, part: Partial<Girth>) =>
    edit.change({ girths: girths.map((g, n) => (n === at ? { ...g, ...part } : g)) })
  const add = () =>
    edit.change({
      girths: [
        ...girths,
        {
          height_mm: girths.length ? Math.round((edit.spec.length_mm ?? 0) * 0.9) : 10,
          figure_mm: Math.round(Math.PI * (girths.length ? round.above_mm : round.below_mm) * 10) / 10,
          by: 'tape',
        },
      ],
    })
  return (
    <Card title="Measure the wall">
      <p className="mb-3 text-soft">
        Round it by tape, or across it by calliper, near both ends of where the mark goes; a third height in
        the middle tells a barrel.
      </p>
      <PracticeTape job={job} measured={(taken) => edit.change({ girths: taken })} />
      <ol className="grid gap-3">
        {girths.map((girth, n) => (
          <li key={n} className="grid grid-cols-[4.5rem_1fr_auto] items-start gap-2">
            <FigureField
              label="At"
              name={`girths.${n}.height_mm`}
              value={girth.height_mm}
              set={(height_mm) => put(n, { height_mm })}
            />
            <FigureField
              label={girth.by === 'tape' ? 'Round it' : 'Across it'}
              name={`girths.${n}.figure_mm`}
              value={girth.figure_mm}
              set={(figure_mm) => put(n, { figure_mm })}
            />
            <Button
              look="quiet"
              className="mt-6"
              aria-label={`Leave measurement ${n + 1} out`}
              onClick={() => edit.change({ girths: girths.filter((_, other) => other !== n) })}
            >
              <X aria-hidden className="size-4" />
            </Button>
            <div className="col-span-3 flex items-center gap-3 text-sm">
              {(['tape', 'calliper'] as const).map((by) => (
                <label key={by} className="flex min-h-11 items-center gap-2">
                  <input
                    type="radio"
                    name={`by-${n}`}
                    className="size-5 accent-(--glaze)"
                    checked={girth.by === by}
                    onChange={() => put(n, { by })}
                  />
                  {by}
                </label>
              ))}
              {round.wall && (
                <span className="ml-auto font-mono whitespace-nowrap text-soft">
                  {offText(round.wall.off_mm[n])}
                </span>
              )}
            </div>
          </li>
        ))}
      </ol>
      <Button className="mt-2 w-full" onClick={add} disabled={girths.length >= 12}>
        <Plus aria-hidden className="size-4" /> {girths.length ? 'One more height' : 'Measure it'}
      </Button>
      <div className="mt-3 grid grid-cols-2 gap-2">
        <FigureField
          label="Length"
          name="length_mm"
          value={edit.spec.length_mm ?? null}
          set={(length_mm) => edit.change({ length_mm })}
        />
        <FigureField
          label="Stem"
          name="stem_mm"
          value={edit.spec.stem_mm ?? null}
          set={(stem_mm) => edit.change({ stem_mm })}
        />
      </div>
      <div className="mt-3">
        <SelectField
          label="Narrow end"
          name="narrow_end"
          value={edit.spec.narrow_end}
          onChange={(e) => edit.change({ narrow_end: e.target.value as Schema<'NarrowEnd'> })}
        >
          <option value="neither">none: as wide at both</option>
          <option value="foot">at the foot</option>
          <option value="top">at the top</option>
        </SelectField>
      </div>
    </Card>
  )
}

function offText(off_mm: number | undefined) {
  if (off_mm === undefined || Math.abs(off_mm) < 0.05) return 'fits'
  return `${off_mm > 0 ? '+' : '−'}${Math.abs(off_mm).toFixed(1)} mm`
}
