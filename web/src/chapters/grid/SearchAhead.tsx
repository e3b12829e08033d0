import type { Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import type { Job } from '../../api/types'
import { LearnsTick } from '../window/LearnsTick'
import { Chip } from '../../ui/parts'
import { showMinutes } from '../../ui/units'

/** What the search still takes with these cells, and a choice between fewer pieces and less time today. */
export function SearchAhead({
  job,
  ahead,
  cells,
  choose,
}: {
  job: Job
  ahead: Schema<'AheadOut'>
  /** As chosen; null: as many as pay. */
  cells: number | null
  choose: (cells: number | null) => void
}) {
  const catalogue = useCatalogue().data
  const drying = ahead.drying_hours > 0 ? `, ${showMinutes(60 * ahead.drying_hours)} of it drying` : ''
  const ways = catalogue && [
    { words: 'What pays', size: null },
    { words: 'Fewest pieces', size: Math.max(...catalogue.grid_sizes_of_next) },
    { words: 'Less time today', size: catalogue.fewest_cells_usual },
  ]
  return (
    <div className="mt-2" aria-live="polite">
      <p>
        Most likely {ahead.pieces === 1 ? 'this test piece' : `${ahead.pieces} test pieces`} and{' '}
        {showMinutes(60 * ahead.hours)} until you can lock{drying}. About {Number(ahead.cost).toFixed(2)}{' '}
        {ahead.currency}.
      </p>
      <p className="text-sm text-soft">
        In about {Math.min(9, Math.round(10 * ahead.chance))} of 10 searches so many suffice. An estimate; a
        coat that is drying already is not in it.
      </p>
      {ahead.begun && <p className="mt-2 text-sm text-soft">{ahead.begun}</p>}
      <LearnsTick job={job} begun={ahead.begun} />
      <div role="group" aria-label="What counts more" className="mt-2 flex flex-wrap gap-2">
        {ways?.map((way) => (
          <Chip key={way.words} on={cells === way.size} toggle={() => choose(way.size)}>
            {way.words}
          </Chip>
        ))}
      </div>
    </div>
  )
}
