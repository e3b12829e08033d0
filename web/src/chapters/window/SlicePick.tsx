import { useState } from 'react'
import type { Schema } from '../../api/client'
import type { Slice } from '../../api/hooks'
import type { Job } from '../../api/types'
import { SelectField, TypedField } from '../../ui/form'
import { figure, inUnit, toBase, useUnits } from '../../ui/units'

const FILMS = [0.5, 0.7, 0.85, 1, 1.2, 1.5, 2]

/** Where the window is cut: lines, passes, and the film against the job's own. */
export function SlicePick({
  job,
  data,
  slice,
  cut,
}: {
  job: Job
  data: Schema<'WindowOut'>
  slice: Slice
  cut: (slice: Slice) => void
}) {
  const { interval } = useUnits()
  const [lines, setLines] = useState<string | null>(null)
  const shown = lines ?? figure(inUnit(data.interval_mm, interval), interval.decimals)
  const take = () => {
    const wanted = toBase(Number(shown), interval)
    setLines(null)
    if (Number.isFinite(wanted) && wanted >= 0.005 && wanted <= 5) cut({ ...slice, interval_mm: wanted })
  }
  return (
    <div className="mb-3 grid grid-cols-2 gap-3 sm:grid-cols-4">
      <TypedField
        label="Lines"
        name="slice_interval"
        unit={interval.label}
        inputMode="decimal"
        value={shown}
        set={setLines}
        onBlur={take}
        onKeyDown={(e) => e.key === 'Enter' && take()}
      />
      <SelectField
        label="Passes"
        name="slice_passes"
        value={data.passes}
        onChange={(e) =>
          cut({ ...slice, interval_mm: slice.interval_mm ?? job.interval_mm, passes: Number(e.target.value) })
        }
      >
        {[1, 2, 3, 4].map((n) => (
          <option key={n}>{n}</option>
        ))}
      </SelectField>
      <SelectField
        label="Film"
        name="slice_film"
        unit="of this coat"
        value={data.map.film_share}
        onChange={(e) => cut({ ...slice, film_share: Number(e.target.value) })}
      >
        {FILMS.map((f) => (
          <option key={f} value={f}>
            {Math.round(100 * f)} %
          </option>
        ))}
      </SelectField>
      {data.has_strokes && (
        <SelectField
          label="For"
          name="slice_art"
          value={data.art}
          onChange={(e) => cut({ ...slice, art: e.target.value as Schema<'Art'> })}
        >
          <option value="fills">filled art</option>
          <option value="strokes">fine strokes</option>
        </SelectField>
      )}
    </div>
  )
}
