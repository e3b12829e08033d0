import { Undo2, Volume2 } from 'lucide-react'
import type { Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { besides } from '../grid/CellTable'
import { Button, Card, Chip, Figures, LinkButton } from '../../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../../drawing/RatingMark'
import { percent, showEnergy, useUnits } from '../../ui/units'

type Cell = Schema<'CellOut'>

export const RATINGS: { rating: Rating; key: string }[] = [
  { rating: 'faint', key: '1' },
  { rating: 'clean', key: '2' },
  { rating: 'harsh', key: '3' },
]

export function RateCard({
  grid,
  cell,
  left,
  judge,
  proposal,
  take,
  undo,
  onward,
}: {
  grid: Schema<'GridOut'>
  cell: Cell
  left: number
  judge: (rating: Rating | null) => void
  proposal?: Schema<'ProposalOut'>
  take: () => void
  undo?: () => void
  onward?: string
}) {
  const whole = cell.burned === 'full'
  return (
    <Card accent title={`Grid ${grid.label}, ${left ? `${left} to rate` : 'all rated'}`}>
      <CellHead cell={cell} />
      {!whole && (
        <p role="status" className="mt-3 rounded-xl bg-frost-tint p-3">
          The burn was stopped {cell.burned === 'part' ? 'in the middle of this cell' : 'before this cell'}:
          there is nothing to rate.
        </p>
      )}
      <div className="mt-3 grid gap-2">
        {RATINGS.map(({ rating, key }) => (
          <button
            key={rating}
            onClick={() => judge(rating)}
            disabled={!whole}
            aria-pressed={cell.rating === rating}
            className={`flex min-h-13 items-center gap-3 rounded-xl border px-4 text-left text-lg disabled:opacity-50 ${
              cell.rating === rating ? 'border-2 border-ink font-bold' : 'border-line hover:border-soft'
            }`}
          >
            <RatingIcon rating={rating} />
            <span className={`grow ${RATING_INK[rating]} font-bold`}>{rating}</span>
            {proposal?.rating === rating && (
              <span className="text-sm text-soft">proposed, {percent(proposal[rating])}</span>
            )}
            <kbd className="font-mono text-sm text-soft">{key}</kbd>
          </button>
        ))}
      </div>
      {proposal && whole && (
        <Button look="main" className="mt-2 w-full" onClick={take}>
          Take the proposal <kbd className="font-mono text-sm font-normal">p</kbd>
        </Button>
      )}
      <div className="mt-2 flex justify-between">
        <Button look="quiet" disabled={!cell.rating} onClick={() => judge(null)}>
          Clear
        </Button>
        <Button look="quiet" disabled={!undo} onClick={undo}>
          <Undo2 aria-hidden className="size-4" /> Take the last back
        </Button>
      </div>
      {onward && (
        <LinkButton look="main" className="mt-3 w-full text-lg" to={onward}>
          To the window
        </LinkButton>
      )}
    </Card>
  )
}

function CellHead({ cell }: { cell: Cell }) {
  const { showSpeed } = useUnits()
  const extra = besides(cell)
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
          ...(extra ? [['Besides', extra] as [string, string]] : []),
        ]}
      />
    </>
  )
}

/** What was seen, felt and heard at a cell. */
export function SeenCard({
  cell,
  process,
  write,
}: {
  cell: Cell
  process: Schema<'ProcessOut'>
  write: (change: Partial<Pick<Cell, 'defects' | 'heard_snapping' | 'strokes'>>) => void
}) {
  const labels = new Map(useCatalogue().data?.defects.map((d) => [d.key, d.label]))
  if (cell.burned !== 'full') return null
  const toggle = (defect: string) =>
    write({
      defects: cell.defects.includes(defect)
        ? cell.defects.filter((d) => d !== defect)
        : [...cell.defects, defect],
    })
  return (
    <Card title={`Seen, felt and heard at ${cell.code}`}>
      <div className="flex flex-wrap gap-2">
        {process.defects.map((defect) => (
          <Chip key={defect} on={cell.defects.includes(defect)} toggle={() => toggle(defect)}>
            {labels.get(defect) ?? defect}
          </Chip>
        ))}
        <Chip on={cell.heard_snapping} toggle={() => write({ heard_snapping: !cell.heard_snapping })}>
          <Volume2 aria-hidden className="mr-1 inline size-4" />
          heard snapping
        </Chip>
      </div>
      <p className="mt-3 text-sm font-bold" id="strokes-label">
        Its fine strokes, apart
      </p>
      <div className="mt-1 flex flex-wrap gap-2" role="group" aria-labelledby="strokes-label">
        {RATINGS.map(({ rating }) => (
          <Chip
            key={rating}
            on={cell.strokes === rating}
            toggle={() => write({ strokes: cell.strokes === rating ? null : rating })}
          >
            {rating}
          </Chip>
        ))}
      </div>
    </Card>
  )
}
