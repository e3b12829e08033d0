import type { Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { Card, Figures } from '../../ui/parts'
import { RATING_INK, RatingIcon, type Rating } from '../../drawing/RatingMark'
import { percent } from '../../ui/units'

type Seen = Schema<'CellReadingOut'>

/** One cell in the photo beside its figures, with what is proposed from them. */
export function CellEvidence({ seen, cell }: { seen: Seen; cell: Schema<'CellOut'> }) {
  const labels = new Map(useCatalogue().data?.defects.map((d) => [d.key, d.label]))
  const { proposal } = seen
  return (
    <Card
      title={`${seen.code} in the photo`}
      aside={
        <span className="text-sm text-soft">
          {seen.photos > 1 ? `joined from ${seen.photos} photos` : 'one photo'}
        </span>
      }
    >
      <div className="grid gap-4 sm:grid-cols-[minmax(0,11rem)_minmax(0,1fr)]">
        <Crop crop={seen.crop} label={`${seen.code}, cut from the photo`} />
        <div>
          <Chances proposal={proposal} />
          <p className="mt-1 mb-2 text-sm text-soft">
            {proposal.why}
            {proposal.defects.length > 0 &&
              ` (${proposal.defects.map((d) => labels.get(d) ?? d).join(', ')})`}
          </p>
          <div className="grid gap-x-6 lg:grid-cols-2">
            <Figures
              rows={[
                ['Of a full mark', percent(seen.full_share)],
                [
                  'Photo contrast',
                  `${seen.contrast_l > 0 ? '+' : '−'}${Math.abs(seen.contrast_l).toFixed(1)} L*`,
                ],
                ['Left unmarked', percent(seen.gap_share)],
                ['Uneven by', percent(seen.unevenness)],
                ['Stripes', seen.stripes === null ? 'too fine' : percent(seen.stripes ?? 0)],
              ]}
            />
            <Figures
              rows={[
                ['Specks', `${(100 * seen.speck_share).toFixed(1)} %, ${seen.speck_count}`],
                ['Beside it', percent(Math.max(0, seen.haze))],
                ['Ragged by', `${seen.roughness_mm.toFixed(2)} mm`],
                ['Off colour', `${seen.tint_de.toFixed(1)} ΔE`],
                ['Fine strokes', strokes(seen)],
              ]}
            />
          </div>
        </div>
      </div>
      {cell.rating && cell.rating !== proposal.rating && (
        <p className="mt-2 text-sm text-soft">
          You rated it {cell.rating}: that counts, and moves the proposals of this workshop.
        </p>
      )}
    </Card>
  )
}

function strokes(seen: Seen): string {
  if (seen.strokes_seen === null || seen.strokes_seen === undefined) return 'none here'
  return seen.strokes_merged ? 'run together' : `${percent(seen.strokes_seen)} seen`
}

/** The chances of the three ratings as one bar, parted by shape and words as well as colour. */
function Chances({ proposal }: { proposal: Schema<'ProposalOut'> }) {
  const parts: [Rating, number, string][] = [
    ['faint', proposal.faint, 'bg-frost'],
    ['clean', proposal.clean, 'bg-glaze'],
    ['harsh', proposal.harsh, 'bg-ember'],
  ]
  return (
    <div>
      <div className="flex h-3 overflow-hidden rounded-full bg-line" aria-hidden>
        {parts.map(([rating, chance, tone]) => (
          <div
            key={rating}
            className={`${tone} border-r border-card last:border-0`}
            style={{ width: `${100 * chance}%` }}
          />
        ))}
      </div>
      <p className="mt-1 flex justify-between text-sm">
        {parts.map(([rating, chance]) => (
          <span key={rating} className={`flex items-center gap-1 ${RATING_INK[rating]}`}>
            <RatingIcon rating={rating} /> {rating} {percent(chance)}
          </span>
        ))}
      </p>
    </div>
  )
}

function Crop({ crop, label }: { crop: Schema<'CropOut'>; label: string }) {
  return (
    <div
      className="relative w-full max-w-60 self-start overflow-hidden rounded-lg"
      style={{ aspectRatio: String(crop.aspect) }}
    >
      <img
        src={`/api/grid-photos/${crop.photo}/upright`}
        alt={label}
        className="absolute max-w-none"
        style={{
          width: `${100 / crop.width}%`,
          height: `${100 / crop.height}%`,
          left: `${(-100 * crop.x) / crop.width}%`,
          top: `${(-100 * crop.y) / crop.height}%`,
        }}
      />
    </div>
  )
}
