import { useQuery } from '@tanstack/react-query'
import { Link } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { keys as names } from '../../api/keys'
import { standOf } from '../../drawing/BatchStrip'
import { RATING_INK, RatingIcon } from '../../drawing/RatingMark'
import { Loading, Problem } from '../../ui/feedback'
import { Button, Card, Chip, LinkButton } from '../../ui/parts'
import { LogbookHead } from './LogbookHead'
import { useChosen } from './useChosen'
import { TheSame, WhatDiffered } from './WhatDiffered'

type Beside = Schema<'PiecesBesideOut'>
type Piece = Beside['pieces'][number]

const MOST = 5

/** Pieces of batches side by side: what came of each, and what differed between them. */
export default function PiecesPage() {
  const { wanted, choose } = useChosen(['pieces'])
  const found = useQuery({
    queryKey: names.piecesBeside(wanted.pieces),
    queryFn: () =>
      body(api.GET('/api/batch-pieces/side-by-side', { params: { query: { pieces: wanted.pieces } } })),
    placeholderData: (before) => before,
  })
  const chosen = found.data?.pieces.map((piece) => piece.row.id) ?? []
  const show = (ids: number[]) => choose({ pieces: ids.join(',') })
  return (
    <>
      <LogbookHead part="Pieces" />
      {found.isPending ? (
        <Loading what="pieces" />
      ) : found.isError ? (
        <>
          <Problem error={found.error} again={() => void found.refetch()} />
          <LinkButton className="mt-3" to="/logbook">
            To the logbook
          </LinkButton>
        </>
      ) : (
        <div className="grid gap-4">
          <Card title="What came of each">
            <div className="grid gap-4 sm:grid-cols-2 lg:grid-cols-[repeat(auto-fit,minmax(13rem,1fr))]">
              {found.data.pieces.map((piece) => (
                <Came
                  key={piece.row.id}
                  piece={piece}
                  drop={
                    chosen.length > 1 ? () => show(chosen.filter((id) => id !== piece.row.id)) : undefined
                  }
                />
              ))}
            </div>
            <Others
              others={found.data.others}
              full={chosen.length >= MOST}
              add={(id) => show([...chosen, id])}
            />
          </Card>
          {chosen.length > 1 && (
            <>
              <WhatDiffered
                facts={found.data.facts}
                of={found.data.pieces.map(({ row }) => [row.id, titleOf(row)])}
              />
              <TheSame facts={found.data.facts} />
            </>
          )}
        </div>
      )}
    </>
  )
}

const titleOf = ({ number, attempt, name }: { number: number; attempt: number; name: string }) =>
  `Piece ${number}${attempt > 1 ? ', anew' : ''}${name && `, ${name}`}`

function Came({ piece, drop }: { piece: Piece; drop?: () => void }) {
  const labels = new Map(useCatalogue().data?.defects.map((defect) => [defect.key, defect.label]))
  const { row } = piece
  return (
    <section aria-label={titleOf(row)} className="grid content-start gap-2 rounded-xl border border-line p-3">
      <Link to={`/jobs/${piece.job_id}/run`} className="font-bold hover:underline">
        {titleOf(row)}
      </Link>
      {piece.photo_id !== null && (
        <img
          src={`/api/piece-photos/${piece.photo_id}/upright?v=${piece.photo_version}`}
          alt={`${titleOf(row)}, washed`}
          className="rounded-lg"
        />
      )}
      {piece.coat_photo_id !== null && (
        <img
          src={`/api/coat/photos/${piece.coat_photo_id}/original`}
          alt={`The coat of ${titleOf(row)}`}
          className="max-h-40 rounded-lg object-contain object-left"
        />
      )}
      <span className={`flex items-center gap-1 ${row.rating ? RATING_INK[row.rating] : ''}`}>
        {row.rating && <RatingIcon rating={row.rating} />}
        {standOf(row)}
      </span>
      {row.defects.length > 0 && (
        <span className="text-sm text-soft">
          {row.defects.map((key) => labels.get(key) ?? key).join(', ')}
        </span>
      )}
      {row.note && <span className="text-sm">{row.note}</span>}
      {drop && (
        <Button look="quiet" className="-ml-2 justify-self-start" onClick={drop}>
          Take away
        </Button>
      )}
    </section>
  )
}

function Others({
  others,
  full,
  add,
}: {
  others: Beside['others']
  full: boolean
  add: (id: number) => void
}) {
  if (others.length === 0) return null
  if (full) return <p className="mt-4 text-soft">Five stand beside each other at most.</p>
  return (
    <div className="mt-4">
      <h3 className="mb-2 text-sm font-bold text-soft">Put beside them</h3>
      <div className="flex flex-wrap gap-2">
        {others.map((other) => (
          <Chip key={other.id} on={false} toggle={() => add(other.id)}>
            {other.rating && <RatingIcon rating={other.rating} />} {other.number}
            {other.attempt > 1 && ', anew'} {other.name}
          </Chip>
        ))}
      </div>
    </div>
  )
}
