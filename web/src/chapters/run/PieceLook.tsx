import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { RATING_INK, RatingIcon } from '../../drawing/RatingMark'
import { TypedField } from '../../ui/form'
import { More } from '../../ui/More'
import { Button, Chip } from '../../ui/parts'
import { SteadyPicture } from '../../ui/SteadyPicture'
import { useShortcuts } from '../../ui/shortcuts'
import { RATINGS } from '../reading/RateCard'

type Row = Schema<'BatchRowOut'>
type Look = Omit<Schema<'PieceLookIn'>, 'version'>

/** How a washed practice piece looks. */
export const lookOf = (row: Row) => `/api/batch-pieces/${row.id}/practice/look.png`

/** What a washed piece came to: a word by key or thumb, what was seen besides, and it is written down. */
export function PieceLook({
  row,
  ticks,
  process,
  picture,
  ratio = 1,
  pending,
  write,
}: {
  row: Row
  ticks: string[]
  picture?: string
  ratio?: number
  process: Schema<'ProcessOut'> | undefined
  pending: boolean
  write: (look: Look) => void
}) {
  const labels = new Map(useCatalogue().data?.defects.map((d) => [d.key, d.label]))
  const [defects, setDefects] = useState(row.defects)
  const [note, setNote] = useState(row.note)
  const [said, setSaid] = useState<Look['rating'] | undefined>(row.spoilt ? null : (row.rating ?? undefined))
  const [besides, setBesides] = useState(row.state === 'looked')
  const judge = (rating: Look['rating']) => {
    setSaid(rating)
    // A clean piece is one press; what went wrong is told first.
    if (rating === 'clean' && !besides) write({ rating, defects, note })
    else setBesides(true)
  }
  useShortcuts('Batch', {
    ...Object.fromEntries(RATINGS.map(({ rating, key }) => [key, () => judge(rating)])),
    '4': () => judge(null),
    n: () => said !== undefined && besides && write({ rating: said, defects, note }),
  })
  const toggle = (defect: string) =>
    setDefects(defects.includes(defect) ? defects.filter((d) => d !== defect) : [...defects, defect])
  const chips = (some: string[]) =>
    some.map((defect) => (
      <Chip key={defect} on={defects.includes(defect)} toggle={() => toggle(defect)}>
        {labels.get(defect) ?? defect}
      </Chip>
    ))
  const pressed = (rating: Look['rating']) =>
    said === rating && besides ? 'border-ink' : 'border-line hover:border-soft'
  return (
    <div>
      {picture && (
        <div className="mb-3">
          <SteadyPicture src={picture} alt={`Piece ${row.number}, washed`} ratio={ratio} />
        </div>
      )}
      {process && (
        <p className="mb-3 text-soft">
          {process.judge} Clean is: {process.clean}.
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        {RATINGS.map(({ rating, key }) => (
          <button
            key={rating}
            type="button"
            disabled={pending}
            aria-pressed={said === rating}
            onClick={() => judge(rating)}
            className={`flex min-h-16 items-center justify-center gap-2 rounded-xl border-2 text-xl font-bold disabled:opacity-50 ${pressed(rating)} ${RATING_INK[rating]}`}
          >
            <RatingIcon rating={rating} /> {rating}
            <kbd className="font-mono text-sm font-normal text-soft pointer-coarse:hidden">{key}</kbd>
          </button>
        ))}
        <button
          type="button"
          disabled={pending}
          aria-pressed={said === null}
          onClick={() => judge(null)}
          className={`flex min-h-16 items-center justify-center gap-2 rounded-xl border-2 text-xl font-bold disabled:opacity-50 ${pressed(null)}`}
        >
          spoilt
          <kbd className="font-mono text-sm font-normal text-soft pointer-coarse:hidden">4</kbd>
        </button>
      </div>
      {besides ? (
        <>
          <div className="my-3 flex flex-wrap gap-2" role="group" aria-label="Seen, felt and heard">
            {chips(ticks.filter((tick) => process?.defects.includes(tick)))}
          </div>
          <More heading="Of the piece as a whole: its place, its shape, its back">
            <div className="mb-3 flex flex-wrap gap-2">
              {chips(ticks.filter((tick) => !process?.defects.includes(tick)))}
            </div>
          </More>
          <TypedField label="Note" name="note" value={note} set={setNote} maxLength={300} />
          <Button
            look="main"
            className="mt-3 min-h-16 w-full text-xl"
            disabled={pending || said === undefined}
            onClick={() => said !== undefined && write({ rating: said, defects, note })}
          >
            Write it down <kbd className="font-mono text-sm font-normal pointer-coarse:hidden">n</kbd>
          </Button>
        </>
      ) : (
        <Button look="quiet" className="mt-1 -ml-2" onClick={() => setBesides(true)}>
          Something was seen besides
        </Button>
      )}
    </div>
  )
}
