import { useState, type ReactNode } from 'react'
import { api, body } from '../../api/client'
import { useArtFigures, useArtNames, useArtworks, useJobWrite, useToneCurve } from '../../api/hooks'
import type { Job } from '../../api/types'
import { TonePlot } from '../../drawing/TonePlot'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { DraftQuestion } from '../../ui/DraftQuestion'
import { AskedFirst, Button, Card, Chapter, LinkButton } from '../../ui/parts'
import { useNextCells } from '../window/useNextCells'
import { ArtView } from './ArtView'
import { BringCard } from './BringCard'
import { DrawingCard } from './DrawingCard'
import { FiguresCard, FilesCard } from './FiguresCard'
import { PiecesCard } from './PiecesCard'
import { PlaceCard } from './PlaceCard'
import { TextCard } from './TextCard'
import { ToneCard } from './ToneCard'
import { WordsCard } from './WordsCard'
import { useArtworkEdit, type Artwork, type Base } from './useArtworkEdit'

export default function ArtworkChapter({ job }: { job: Job }) {
  const all = useArtworks(job.id)
  const [wanted, choose] = useState<number | null>(null)
  if (all.isPending) return <Loading what="artwork" />
  if (all.isError) return <Problem error={all.error} again={() => void all.refetch()} />
  const { artworks, base } = all.data
  const artwork = artworks.find((a) => a.id === wanted) ?? artworks.at(-1) ?? null
  const bring = <BringCard job={job} artworks={artworks} here={artwork?.id ?? null} choose={choose} />
  if (!base)
    return (
      <div className="grid gap-4 md:grid-cols-[19rem_minmax(0,1fr)]">
        {bring}
        <Empty title="No setting is locked yet">
          <p>
            Artwork is made for the lines, the spot and the window of a locked setting. Bring it now if you
            like.
          </p>
          <LinkButton look="main" className="mt-4" to={`/jobs/${job.id}/${job.next.chapter}`}>
            {job.next.title}
          </LinkButton>
        </Empty>
      </div>
    )
  if (!artwork)
    return (
      <div className="grid gap-4 md:grid-cols-[19rem_minmax(0,1fr)]">
        {bring}
        <Empty title="Bring a photo, a drawing, a text or a list of names">
          <p>{base.says}</p>
          {base.one_tone && <p className="mt-2">{base.one_tone}</p>}
        </Empty>
      </div>
    )
  return <Workbench key={artwork.id} job={job} artwork={artwork} base={base} bring={bring} />
}

function Workbench({
  job,
  artwork,
  base,
  bring,
}: {
  job: Job
  artwork: Artwork
  base: Base
  bring: ReactNode
}) {
  const [piece, see] = useState(0)
  const [asked, ask] = useState(false)
  const edit = useArtworkEdit(job.id, artwork)
  const figures = useArtFigures(job.id, artwork, base.stamp, piece)
  const names = useArtNames(job.id, artwork, base.stamp).data ?? []
  const drop = useJobWrite(job.id, () =>
    body(api.DELETE('/api/artworks/{artwork_id}', { params: { path: { artwork_id: artwork.id } } })),
  )
  const greys = artwork.kind === 'picture' && artwork.spec.screen !== 'threshold'
  return (
    <Chapter
      doing={
        <>
          {bring}
          {artwork.kind === 'names' ? (
            <WordsCard edit={edit} names={names} piece={piece} see={see} />
          ) : (
            <>
              {artwork.kind === 'text' && <TextCard artwork={artwork} edit={edit} />}
              <PlaceCard artwork={artwork} base={base} edit={edit} />
            </>
          )}
          {artwork.kind === 'picture' && <ToneCard artwork={artwork} edit={edit} />}
          {artwork.kind === 'drawing' && (
            <DrawingCard artwork={artwork} edit={edit} piece={piece} see={see} />
          )}
          <DraftQuestion question={edit.question} />
          {edit.error && <Problem error={edit.error} />}
        </>
      }
      seeing={
        <>
          <ArtView
            artwork={artwork}
            base={base}
            piece={piece}
            label={names[piece]?.first ?? figures.data?.label ?? ''}
            push={(right_mm, up_mm) => {
              const { x_mm, y_mm } = edit.spec.placement
              if (artwork.kind !== 'names') edit.place({ x_mm: x_mm + right_mm, y_mm: y_mm + up_mm })
            }}
          />
          <PiecesCard
            job={job}
            artwork={artwork}
            piece={piece}
            seconds={figures.data?.seconds ?? 0}
            usable={!figures.error && !figures.data?.why}
          />
        </>
      }
      why={
        <>
          <FiguresCard
            base={base}
            engraved={artwork.engraved}
            figures={figures.data}
            error={figures.error}
            pieces={job.pieces}
            across={artwork.spec.across}
          />
          <FilesCard
            job={job}
            artwork={artwork}
            base={base}
            piece={piece}
            usable={!figures.error && !figures.data?.why}
          />
          <Card title="Light and dark">
            <p>{base.says}</p>
          </Card>
          {greys && <CurveCard job={job} artwork={artwork} base={base} />}
          {asked ? (
            <AskedFirst
              act={`Throw ${artwork.name} away`}
              busy={drop.isPending}
              onAct={() => drop.mutate(undefined)}
              onKeep={() => ask(false)}
            >
              The artwork goes, with what was asked of it. Bring the file again if you want it back.
            </AskedFirst>
          ) : (
            <Button look="quiet" onClick={() => ask(true)}>
              Throw “{artwork.name}” away …
            </Button>
          )}
          {drop.error && <Problem error={drop.error} />}
        </>
      }
    />
  )
}

function CurveCard({ job, artwork, base }: { job: Job; artwork: Artwork; base: Base }) {
  const { power_pct, speed_mm_s, interval_mm, passes } = base.setting
  const wedge = useNextCells(job, base.setting)
  const curve = useToneCurve(job.id, artwork.spec.screen, base.stamp, true).data
  if (!curve) return null
  return (
    <Card title="What dots gain">
      <TonePlot points={curve.points} steps={curve.steps} />
      <p className="mt-2 text-sm text-soft">
        {curve.wedge
          ? `Read off the grey wedge of grid ${curve.wedge}, which was burned at this setting.`
          : 'Expected from spot, lines and window, with its range. A grey wedge that is burned at this setting and photographed tells how dots really gain: then greys come out as they are meant.'}
      </p>
      {!curve.wedge && (
        <Button
          className="mt-3 w-full"
          disabled={wedge.isPending}
          onClick={() =>
            wedge.draw({ kind: 'wedge', cells: 8, at: { power_pct, speed_mm_s, interval_mm, passes } })
          }
        >
          Draw a grey wedge
        </Button>
      )}
      {wedge.error && <Problem error={wedge.error} />}
    </Card>
  )
}
