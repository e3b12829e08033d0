import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJobWrite, useProof } from '../../api/hooks'
import { Findings, Loading, Problem } from '../../ui/feedback'
import { Button, Card, Chapter, Figures, LinkButton } from '../../ui/parts'
import { dayAndClock, useUnits } from '../../ui/units'
import type { StepProps } from './steps'
import { CornerMarker } from '../../ui/CornerMarker'
import { DarkEnough } from './DarkEnough'
import { FilmMap } from '../../drawing/FilmMap'
import { HOW, wayOf } from './lighting'
import { PhotoForm } from './PhotoForm'
import { PracticeCoatPhoto } from '../practice/PracticeCoatPhoto'

type Photo = Schema<'CoatPhotoOut'>
type Proof = Schema<'ProofOut'>

export default function ProveStep({ job }: StepProps) {
  const proof = useProof(job.id)
  const [chosen, setChosen] = useState<number | null>(null)
  if (proof.isPending) return <Loading what="proof" />
  if (proof.isError) return <Problem error={proof.error} again={() => void proof.refetch()} />
  const { photos } = proof.data
  const Form = job.practice ? PracticeCoatPhoto : PhotoForm
  const photo = photos.find((p) => p.id === chosen) ?? photos[0] ?? null
  return (
    <Chapter
      doing={
        <>
          <Form job={job} proof={proof.data} show={setChosen} />
          {photos.length > 1 && (
            <Card title="Photos of this job">
              <ul className="-my-2">
                {photos.map((p) => (
                  <li key={p.id} className="border-b border-line last:border-0">
                    <button
                      aria-pressed={p.id === photo?.id}
                      onClick={() => setChosen(p.id)}
                      className={`flex min-h-11 w-full justify-between gap-3 py-2 text-left ${p.id === photo?.id ? 'font-bold' : ''}`}
                    >
                      <span>
                        {p.piece ? `Piece ${p.piece}` : 'A piece'}, {dayAndClock(p.at)}
                        {p.simulated && !job.practice && <Simulated />}
                      </span>
                      <span className="font-mono">
                        {p.cv === null ? (p.reading ? 'not told' : '–') : `${(100 * p.cv).toFixed(0)} %`}
                      </span>
                    </button>
                  </li>
                ))}
              </ul>
            </Card>
          )}
        </>
      }
      seeing={
        <>
          {photo ? (
            <PhotoCard key={photo.id} job={job} photo={photo} proof={proof.data} />
          ) : (
            <Card title="No photo yet">
              <p className="text-lg">{HOW[wayOf(proof.data)].how}</p>
              <p className="mt-2 text-soft">
                The whole piece in the picture with some plain ground round it, square on, exposure held
                fixed. A second photo of the bare piece from the same place makes it surer.
              </p>
            </Card>
          )}
          <DarkEnough job={job} proof={proof.data} />
        </>
      }
      why={<Why job={job} proof={proof.data} photo={photo} />}
    />
  )
}

function Simulated() {
  return <span className="ml-2 rounded bg-frost-tint px-1.5 text-sm text-frost">simulated</span>
}

function PhotoCard({ job, photo, proof }: { job: StepProps['job']; photo: Photo; proof: Proof }) {
  const [marking, setMarking] = useState(false)
  const path = { params: { path: { photo_id: photo.id } } }
  const measure = useJobWrite(job.id, (points: Schema<'PicturePoint'>[] | null) =>
    body(
      api.POST('/api/coat/photos/{photo_id}/measure', { ...path, body: { points, version: photo.version } }),
    ),
  )
  const drop = useJobWrite(job.id, () => api.DELETE('/api/coat/photos/{photo_id}', path))
  const title = photo.piece ? `Piece ${photo.piece}, ${dayAndClock(photo.at)}` : dayAndClock(photo.at)
  return (
    <Card title={title} aside={photo.simulated && !job.practice ? <Simulated /> : undefined}>
      {marking ? (
        <CornerMarker
          src={`/api/coat/photos/${photo.id}/view`}
          of="the coated face"
          frame={proof.frame}
          points={photo.points}
          busy={measure.isPending}
          save={(points) => measure.mutate(points, { onSuccess: () => setMarking(false) })}
          leave={() => setMarking(false)}
        />
      ) : (
        <>
          {photo.trouble && (
            <div role="alert" className="mb-3 rounded-xl bg-ember-tint p-3">
              <p className="font-bold">{photo.trouble.message}</p>
              <p className="text-soft">{photo.trouble.hint} The photo is kept.</p>
            </div>
          )}
          {photo.reading ? (
            <>
              <p className="mb-3 text-2xl leading-tight font-bold">{photo.findings[0]?.fix}</p>
              <FilmMap reading={photo.reading} photoId={photo.id} />
              <div className="mt-4 grid gap-2">
                <Findings list={photo.findings} />
              </div>
            </>
          ) : (
            <img
              src={`/api/coat/photos/${photo.id}/view`}
              alt="The coated piece as it was taken"
              className="w-full rounded-lg"
            />
          )}
          <div className="mt-3 flex flex-wrap gap-3">
            <Button onClick={() => setMarking(true)}>Mark the corners by hand</Button>
            <Button look="quiet" disabled={drop.isPending} onClick={() => drop.mutate(undefined)}>
              Throw the photo away
            </Button>
          </div>
        </>
      )}
      {(measure.error ?? drop.error) && <Problem error={measure.error ?? drop.error} />}
    </Card>
  )
}

const REFERENCE: Record<string, string> = {
  bare_shot: 'your photo of the bare piece',
  surroundings: 'the bright field round it',
  itself: 'the coat itself: only differences show',
}

function Why({ job, proof, photo }: { job: StepProps['job']; proof: Proof; photo: Photo | null }) {
  const { showSpeed } = useUnits()
  const reading = photo?.reading
  const { cost } = proof
  return (
    <>
      {reading && (
        <Card title="Measured">
          <Figures
            rows={[
              ['Variation', photo.cv === null ? 'cannot be seen' : `${(100 * photo.cv).toFixed(1)} %`],
              reading.way === 'through'
                ? ['Optical density', reading.mean_signal.toFixed(2)]
                : ['Ground showing', `${(100 * Math.exp(-reading.mean_signal)).toFixed(0)} %`],
              ['Streaks', `${(100 * reading.streaks.depth).toFixed(1)} % deep`],
              ['Faults', String(reading.faults.length)],
            ]}
          />
          <p className="mt-2 text-sm text-soft">
            In squares of 1 mm, against {REFERENCE[reading.reference]}.{' '}
            {reading.reference === 'itself' &&
              'The mean film is taken as planned; a photo of the bare piece makes it surer.'}
          </p>
        </Card>
      )}
      <Card title="What it means for the mark">
        {proof.coat_cv === null ? (
          <p className="text-soft">
            No photo of {job.practice ? 'a practice piece' : 'a real piece'} is measured yet: the window
            reckons with your workshop’s usual {(100 * proof.usual_cv).toFixed(0)} %.
          </p>
        ) : (
          <>
            <p>
              The window now reckons with <b>{(100 * proof.coat_cv).toFixed(0)} %</b> of coat scatter for this
              job, instead of your usual {(100 * proof.usual_cv).toFixed(0)} %.
            </p>
            {!cost && (
              <p className="mt-2 text-soft">Once a grid is rated, this says what that costs the mark.</p>
            )}
            {cost && (
              <p className="mt-2">
                At {cost.power_pct} %, {showSpeed(cost.speed_mm_s)}: about{' '}
                <b>{Math.round(100 * cost.clean_measured)} of 100</b> clean, against{' '}
                {Math.round(100 * cost.clean_usual)} with the usual scatter.
              </p>
            )}
          </>
        )}
        <p className="mt-2 text-sm text-soft">
          Thin starves the mark, thick shields the piece; extra passes mend neither. An estimate, never a
          promise.
        </p>
        <LinkButton className="mt-3 w-full" to={`/jobs/${job.id}/grid`}>
          To the grid
        </LinkButton>
      </Card>
    </>
  )
}
