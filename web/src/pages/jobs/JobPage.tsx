import { lazy, Suspense, useEffect, useRef } from 'react'
import { Link, useParams } from 'react-router'
import type { Job } from '../../api/types'
import { useJob } from '../../api/hooks'
import { Loading, Problem } from '../../ui/feedback'
import { Onward } from '../../ui/Onward'
import { PracticeStrip } from '../../chapters/practice/PracticeStrip'
import { LayerSection } from '../../drawing/LayerSection'
import { countText, pieceSize } from '../../chapters/piece/pieceSize'
import { Heading } from '../../ui/Heading'

const CHAPTERS = {
  piece: { label: 'Piece', Page: lazy(() => import('../../chapters/piece/PieceChapter')) },
  coat: { label: 'Coat', Page: lazy(() => import('../../chapters/coat/CoatChapter')) },
  grid: { label: 'Grid', Page: lazy(() => import('../../chapters/grid/GridChapter')) },
  reading: { label: 'Reading', Page: lazy(() => import('../../chapters/reading/ReadingChapter')) },
  window: { label: 'Window', Page: lazy(() => import('../../chapters/window/WindowChapter')) },
  artwork: { label: 'Artwork', Page: lazy(() => import('../../chapters/artwork/ArtworkChapter')) },
  placing: { label: 'Placing', Page: lazy(() => import('../../chapters/placing/PlacingChapter')) },
  run: { label: 'Run', Page: lazy(() => import('../../chapters/run/RunChapter')) },
  cost: { label: 'Cost', Page: lazy(() => import('../../chapters/cost/CostChapter')) },
} as const
type ChapterKey = keyof typeof CHAPTERS

function coatText({ coat_put_on, drying }: Job): string {
  if (!coat_put_on) return 'as it is'
  if (!drying.all_on) return `${drying.coats_on} of ${drying.coats_planned} on`
  return drying.ready ? 'dry' : 'drying'
}

const countOf = (artworks: number) => (artworks ? `${artworks} brought` : 'none yet')

function stationText(job: Job): Record<ChapterKey, [string, boolean]> {
  const { drying, grid, locked } = job
  return {
    piece: [pieceSize(job), true],
    coat: [coatText(job), !job.coat_put_on || (drying.all_on && drying.ready)],
    grid: [
      grid ? `${grid.label}, ${grid.state === 'drawn' ? 'drawn' : 'burned'}` : 'none yet',
      !!grid?.burned_at,
    ],
    reading: [grid?.burned_at ? `${grid.rated} of ${grid.cells}` : '–', grid?.state === 'rated'],
    window: [locked ? `version ${locked.version}` : '–', !!locked],
    artwork: [locked ? countOf(job.artworks) : '–', job.artworks > 0],
    placing: [job.placed ? 'told' : '–', job.placed],
    run: [locked ? 'sheet ready' : '–', !!locked],
    cost: [locked ? 'a good piece' : '–', !!locked],
  }
}

export default function JobPage() {
  const { id, chapter } = useParams()
  const jobId = Number(id)
  const query = useJob(jobId)
  if (query.isPending) return <Loading what="job" />
  if (query.isError)
    return (
      <>
        <Problem error={query.error} again={() => void query.refetch()} />
        <Link to="/jobs" className="mt-4 inline-block underline">
          All jobs
        </Link>
      </>
    )
  const job = query.data
  if (!chapter || !(chapter in CHAPTERS)) return <Onward to={`/jobs/${jobId}/${job.next.chapter}`} />
  const { Page, label } = CHAPTERS[chapter as ChapterKey]
  return (
    <>
      {job.practice && <PracticeStrip practice={job.practice} />}
      <header className="no-print mb-2 flex items-start justify-between gap-4">
        <div>
          <Heading title={`${label} – ${job.name}`}>
            {job.name}
            <span className="sr-only">, {label}</span>
          </Heading>
          <p className="text-soft">
            {countText(job.pieces)} · {job.process_label} · {job.machine}, {job.beam}
            {job.experiment_id !== null && (
              <>
                {' · '}
                <Link className="underline underline-offset-4" to={`/compare/${job.experiment_id}`}>
                  part of a comparison
                </Link>
              </>
            )}
          </p>
        </div>
        <LayerSection job={job} caption={false} className="-mb-3 hidden w-36 shrink-0 sm:block" />
      </header>
      <Stations job={job} here={chapter as ChapterKey} />
      <Suspense fallback={<Loading what="chapter" />}>
        <Page job={job} />
      </Suspense>
    </>
  )
}

function Stations({ job, here }: { job: Job; here: ChapterKey }) {
  const texts = stationText(job)
  const station = useRef<HTMLLIElement>(null)
  useEffect(() => {
    // Newer browsers answer with a promise, which an effect must not hand on as its clean-up.
    void station.current?.scrollIntoView({ block: 'nearest', inline: 'center' })
  }, [here])
  return (
    <nav aria-label="Chapters" className="no-print mb-5 overflow-x-auto">
      <ol className="flex min-w-max">
        {(Object.keys(CHAPTERS) as ChapterKey[]).map((key) => {
          const [text, done] = texts[key]
          const current = key === here
          return (
            <li key={key} ref={current ? station : undefined} className="min-w-24 flex-1 md:min-w-28">
              <Link
                to={`/jobs/${job.id}/${key}`}
                aria-current={current ? 'step' : undefined}
                className="block min-h-11 pr-4 pt-2 pb-1"
              >
                <span className="flex items-center">
                  <span
                    className={`z-1 size-4 rounded-full border-2 ${done ? 'border-glaze bg-glaze' : 'border-line bg-paper'} ${current ? 'ring-3 ring-frost ring-offset-2 ring-offset-paper' : ''}`}
                  />
                  <span className={`h-0.5 grow ${done ? 'bg-glaze' : 'bg-line'}`} />
                </span>
                <span className={`mt-1.5 block ${current ? 'font-bold' : 'text-soft'}`}>
                  {CHAPTERS[key].label}
                </span>
                <span className="block text-xs text-soft">{text}</span>
              </Link>
            </li>
          )
        })}
      </ol>
    </nav>
  )
}
