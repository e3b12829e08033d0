import { Download } from 'lucide-react'
import { useState } from 'react'
import type { Schema } from '../../api/client'
import { usePlacing } from '../../api/hooks'
import type { Job } from '../../api/types'
import { BedView } from '../../drawing/BedView'
import { FlankView } from '../../drawing/FlankView'
import { TurningView } from '../../drawing/TurningView'
import { WrapView } from '../../drawing/WrapView'
import { Findings, Loading, Problem } from '../../ui/feedback'
import { DraftQuestion } from '../../ui/DraftQuestion'
import { RefusalScope } from '../../ui/form'
import { Card, Chapter, Figures, FileLink } from '../../ui/parts'
import { LandingCard, RidgeCard } from '../practice/LandingCard'
import { JigCard } from './JigCard'
import { MarkCard } from './MarkCard'
import { MeasureCard } from './MeasureCard'
import { TouchCard } from './TouchCard'
import { TurnCard } from './TurnCard'
import { usePlacingEdit, type Placing } from './usePlacingEdit'

export default function PlacingChapter({ job }: { job: Job }) {
  const placing = usePlacing(job.id)
  if (placing.isPending) return <Loading what="placing" />
  if (placing.isError) return <Problem error={placing.error} again={() => void placing.refetch()} />
  return <Workbench job={job} placing={placing.data} />
}

function Workbench({ job, placing }: { job: Job; placing: Placing }) {
  const edit = usePlacingEdit(job.id, placing)
  const { round, flat } = placing
  const [strips, setStrips] = useState<Schema<'RidgeOut'>>()
  return (
    <Chapter
      doing={
        <RefusalScope error={edit.error}>
          {round && <TurnCard job={job} edit={edit} placing={placing} />}
          {round ? <MeasureCard job={job} edit={edit} round={round} /> : <TouchCard job={job} edit={edit} />}
          <MarkCard job={job} edit={edit} placing={placing} />
          <DraftQuestion question={edit.question} />
          {edit.error && <Problem error={edit.error} />}
        </RefusalScope>
      }
      seeing={
        <>
          {round && (
            <Card title={round.device ? 'From the side, to scale' : 'Under the head, to scale'}>
              {round.device ? (
                <TurningView round={round} supports_mm={edit.spec.supports_mm ?? 100} />
              ) : (
                <FlankView round={round} locked={!!job.locked} strips={strips} />
              )}
            </Card>
          )}
          {round && (
            <Card title="The wall laid flat">
              <WrapView round={round} way={edit.spec.mark.way ?? 'level'} />
            </Card>
          )}
          {flat && (
            <Card title="On the bed, to scale">
              <BedView flat={flat} points={edit.spec.points ?? []} />
            </Card>
          )}
          {flat && <JigCard job={job} />}
        </>
      }
      why={
        <>
          <Findings list={placing.findings} />
          {round && <RoundFigures round={round} />}
          {flat && <FlatFigures flat={flat} />}
          <HeightCard placing={placing} />
          <FilesCard job={job} placing={placing} />
          {job.practice &&
            job.locked &&
            (round && !round.device ? (
              <RidgeCard job={job} burned={setStrips} />
            ) : (
              placing.artwork_id !== null &&
              (round || flat?.frame.length !== 0) && (
                <LandingCard job={job} tapers={Math.abs(round?.half_angle_deg ?? 0) > 0.05} />
              )
            ))}
        </>
      }
    />
  )
}

function RoundFigures({ round }: { round: NonNullable<Placing['round']> }) {
  const way = Object.fromEntries(round.ways.map((w) => [w.way, w]))
  const taper = Math.abs(round.half_angle_deg) > 0.05
  return (
    <Card title={round.wall ? `Measured: a ${round.wall.kind}` : 'As told, not measured'}>
      <Figures
        rows={[
          ['At the foot', `Ø ${round.profile[0]?.[1]?.toFixed(1)} mm`],
          ['At the top', `Ø ${round.profile.at(-1)?.[1]?.toFixed(1)} mm`],
          ['At the mark', `Ø ${round.there_mm.toFixed(1)} mm`],
          ['1 mm of mark', `${round.degrees_per_mm.toFixed(3)}°`],
          ['The mark takes', `${round.mark_deg.toFixed(0)}°`],
          ['To the seam', `${round.to_seam_mm.toFixed(1)} mm`],
          ...(taper
            ? ([
                ['Half angle', `${Math.abs(round.half_angle_deg).toFixed(2)}°`],
                ['Level: wider by', `${way.level?.wider_pct.toFixed(1)} %`],
                ['Straight: sides off', `${Math.abs(way.straight?.sag_mm ?? 0).toFixed(2)} mm`],
                ['Straight: letters lean', `${way.straight?.lean_deg.toFixed(1)}°`],
              ] as [string, string][])
            : []),
        ]}
      />
      {round.wall?.kind === 'barrel' && (
        <p className="mt-2 text-sm text-soft">
          {round.wall.straight_mm.toFixed(0)} mm of it are straight to half a millimetre.
        </p>
      )}
      {round.device && (
        <ul className="mt-3 grid gap-1 text-sm text-soft">
          {round.supports.map((support) => (
            <li key={support.at_mm}>
              <span className="font-mono">{support.at_mm.toFixed(0)} mm</span>: {support.words}
            </li>
          ))}
          <li>White paper inside catches stray light. Don’t over-tighten thin glass.</li>
        </ul>
      )}
    </Card>
  )
}

function FlatFigures({ flat }: { flat: NonNullable<Placing['flat']> }) {
  const { disc, sheet } = flat
  if (disc)
    return (
      <Card title="Its middle">
        <p className="font-mono text-2xl font-bold">
          {disc.x_mm.toFixed(2)}, {disc.y_mm.toFixed(2)}
        </p>
        <p className="text-sm text-soft">
          mm on the bed, to {disc.doubt_mm.toFixed(2)} mm; Ø {disc.diameter_mm.toFixed(1)} mm by these points.
        </p>
      </Card>
    )
  if (sheet)
    return (
      <Card title="Its middle and turn">
        <p className="font-mono text-2xl font-bold">
          {sheet.x_mm.toFixed(2)}, {sheet.y_mm.toFixed(2)}
        </p>
        <p className="text-sm text-soft">
          mm on the bed; turned {Math.abs(sheet.turn_deg).toFixed(2)}°{' '}
          {sheet.turn_deg < 0 ? 'clockwise' : 'counterclockwise'}. The art is turned to match.
        </p>
      </Card>
    )
  return null
}

function HeightCard({ placing }: { placing: Placing }) {
  const { height } = placing
  return (
    <Card title="Height">
      <p>{height.focus[0]?.toUpperCase() + height.focus.slice(1)}.</p>
      <p className="mt-2 text-sm text-soft">
        The beam keeps its width over ±{height.depth_mm.toFixed(1)} mm,{' '}
        {height.measured ? 'by your focus ladder' : 'guessed from spot and colour: a focus ladder would tell'}
        .
        {height.room_mm !== null &&
          (height.room_mm > 0
            ? ` The locked setting holds ${height.room_mm.toFixed(1)} mm off focus.`
            : ' The locked setting does not hold the wanted share even in focus.')}
      </p>
      <p className="mt-2 text-sm text-soft">
        Raise glass off a honeycomb bed: what the bed throws back pits its underside. Foil or paper under
        acrylic.
      </p>
    </Card>
  )
}

function FilesCard({ job, placing }: { job: Job; placing: Placing }) {
  const { round, flat } = placing
  const base = `/api/jobs/${job.id}/placing`
  const framed = !!flat?.frame.length
  const turned = round?.device && placing.artwork_id !== null && job.locked
  const stripped = round?.head && placing.artwork_id !== null
  if (!round && !framed) return null
  return (
    <Card title="Take it">
      <p className="mb-3 text-sm text-soft">
        Eyewear on and extraction running before anything moves. These are aids, no clearance: local rules
        come first.
      </p>
      <div className="grid gap-2">
        {framed && (
          <FileLink href={`${base}/frame.gcode`}>
            <Download aria-hidden className="size-4" /> Frame, beam off
          </FileLink>
        )}
        {framed && placing.artwork_id !== null && job.locked && (
          <FileLink href={`${base}/placed.gcode?artwork_id=${placing.artwork_id}`}>
            <Download aria-hidden className="size-4" /> Artwork, where it lies
          </FileLink>
        )}
        {turned && (
          <FileLink href={`${base}/turned.gcode?artwork_id=${placing.artwork_id}`}>
            <Download aria-hidden className="size-4" /> Artwork, turned
          </FileLink>
        )}
        {stripped &&
          round.head?.at_deg.map((degrees, n) => (
            <FileLink
              key={degrees}
              href={`${base}/strip.gcode?artwork_id=${placing.artwork_id}&number=${n + 1}`}
            >
              <Download aria-hidden className="size-4" /> Strip {n + 1}, at{' '}
              {degrees.toFixed(1).replace('-', '−')}°
            </FileLink>
          ))}
        {round && (
          <FileLink href={`${base}/wrap.svg`}>
            <Download aria-hidden className="size-4" /> Sheet to wrap, SVG
          </FileLink>
        )}
      </div>
      {framed && (
        <p className="mt-2 text-sm text-soft">
          It goes round the art, over its middle lines, then round the piece, twice. A side that runs away
          from the pointer says that the piece lies askew.
        </p>
      )}
      {stripped && (round.head?.at_deg.length ?? 0) > 1 && (
        <p className="mt-2 text-sm text-soft">
          Wrap the sheet round the piece, and turn each strip’s dotted line to the ridge: where one strip ends
          the next begins.
        </p>
      )}
      {round?.device && !turned && (
        <p className="mt-2 text-sm text-soft">
          {job.locked
            ? 'Choose an artwork to take it turned.'
            : 'Artwork is turned once a setting is locked.'}
        </p>
      )}
    </Card>
  )
}
