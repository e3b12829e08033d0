import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJig } from '../../api/hooks'
import { fetchAnew, keys } from '../../api/keys'
import { asQuery } from '../../api/query'
import type { Job } from '../../api/types'
import { JigView } from '../../drawing/JigView'
import { Problem } from '../../ui/feedback'
import { FigureField } from '../../ui/FigureField'
import { RefusalScope, TickField, TypedField } from '../../ui/form'
import { More } from '../../ui/More'
import { Button, FileLink } from '../../ui/parts'
import { useSettled } from '../../ui/useSettled'
import { loadsText } from './loads'

const FIGURES: [string, Exclude<keyof Schema<'JigIn'>, 'across' | 'mirrored'>, string?][] = [
  ['Sheet, wide', 'sheet_width_mm'],
  ['Sheet, high', 'sheet_height_mm'],
  ['Play', 'play_mm'],
  ['Kerf', 'kerf_mm'],
  ['Gap', 'gap_mm'],
  ['Margin', 'margin_mm'],
  ['Finger notch', 'finger_mm'],
  ['Hole points', 'hole_deg', '°'],
]
const USUAL = { play_mm: 0.4, kerf_mm: 0.15, gap_mm: 6, margin_mm: 12, finger_mm: 0 }

/** Pockets for the batch on a sheet: as many as fit, the files to cut them, and what is cut to try first. */
export function NewJig({ job, kept }: { job: Job; kept: (id: number) => void }) {
  const [wish, setWish] = useState<Schema<'JigIn'>>({
    ...USUAL,
    sheet_width_mm: Math.max(300, Math.ceil(job.face.width_mm) + 40),
    sheet_height_mm: Math.max(200, Math.ceil(job.face.height_mm) + 40),
    across: false,
    mirrored: job.seen_through,
  })
  const asked = useSettled(wish, 300)
  const found = useJig(job.id, asked)
  const put = (part: Partial<Schema<'JigIn'>>) => setWish((old) => ({ ...old, ...part }))
  return (
    <RefusalScope error={found.error}>
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
        {FIGURES.map(([label, name, unit]) => (
          <FigureField
            key={name}
            label={label}
            name={name}
            unit={unit}
            value={wish[name] ?? null}
            set={(figure) => put({ [name]: figure })}
          />
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-x-6">
        <TickField checked={wish.across} onChange={(e) => put({ across: e.target.checked })}>
          Pieces turned a quarter
        </TickField>
        <TickField checked={wish.mirrored} onChange={(e) => put({ mirrored: e.target.checked })}>
          Mirrored, for marks seen from behind
        </TickField>
      </div>
      {found.error && <Problem error={found.error} />}
      {found.data && !found.error && (
        <>
          <div className="mt-3">
            <JigView jig={found.data} sheet={[asked.sheet_width_mm, asked.sheet_height_mm]} />
          </div>
          <p className="mt-2">{loadsText(found.data.loads)}</p>
          <p className="mt-1 text-sm text-soft">
            Cut the trial first: three pockets of different play, to see which one the pieces like. Numbers
            and lines are marked, not cut.
          </p>
          <Sheets job={job} asked={asked} />
          <KeepJig job={job} asked={asked} kept={kept} />
        </>
      )}
    </RefusalScope>
  )
}

function Sheets({ job, asked }: { job: Job; asked: Schema<'JigIn'> }) {
  const [pin_mm, setPin] = useState(6)
  const base = `/api/jobs/${job.id}/sheets`
  const query = asQuery(asked)
  const files: [string, string][] = [
    ['Jig, SVG', `${base}/jig.svg?${query}`],
    ['Jig, DXF', `${base}/jig.dxf?${query}`],
    ['Trial, SVG', `${base}/trial.svg?${query}`],
    ['Trial, DXF', `${base}/trial.dxf?${query}`],
  ]
  return (
    <>
      <div className="mt-3 flex flex-wrap gap-2">
        {files.map(([label, href]) => (
          <Take key={label} href={href} label={label} />
        ))}
      </div>
      <div className="mt-2 grid gap-x-6 sm:grid-cols-2">
        <More heading="Cut it on this machine">
          <CutHere job={job} asked={asked} />
        </More>
        <More heading="Stops for one piece at a time">
          <p className="mb-2 text-sm text-soft">
            Pins that each piece is pushed against: two along a sheet’s longer side and one at its short side,
            two below a disc.
          </p>
          <div className="flex flex-wrap items-end gap-2">
            <div className="w-28">
              <FigureField label="Pins across" name="pin_mm" value={pin_mm} set={setPin} />
            </div>
            <Take href={`${base}/stops.svg?${query}&pin_mm=${pin_mm}`} label="Stops, SVG" />
            <Take href={`${base}/stops.dxf?${query}&pin_mm=${pin_mm}`} label="DXF" />
          </div>
        </More>
      </div>
    </>
  )
}

function CutHere({ job, asked }: { job: Job; asked: Schema<'JigIn'> }) {
  const [cut, setCut] = useState({
    cut_power_pct: 90,
    cut_speed_mm_s: 5,
    cut_passes: 2,
    mark_power_pct: 15,
    mark_speed_mm_s: 60,
  })
  const figures: [string, keyof typeof cut, string][] = [
    ['Cut at', 'cut_power_pct', '%'],
    ['Cut speed', 'cut_speed_mm_s', 'mm/s'],
    ['Passes', 'cut_passes', ''],
    ['Mark at', 'mark_power_pct', '%'],
    ['Mark speed', 'mark_speed_mm_s', 'mm/s'],
  ]
  const query = asQuery({ ...asked, ...cut })
  return (
    <>
      <p className="mb-2 text-sm text-soft">
        Use what cuts this sheet on {job.machine}: a first guess stands here. Never vinyl or PVC; stay with
        it, a cut sheet can burn.
      </p>
      <div className="grid grid-cols-2 gap-2">
        {figures.map(([label, name, unit]) => (
          <FigureField
            key={name}
            label={label}
            name={name}
            unit={unit}
            value={cut[name]}
            set={(figure) => setCut((old) => ({ ...old, [name]: figure }))}
          />
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-2">
        <Take href={`/api/jobs/${job.id}/sheets/jig/burn.gcode?${query}`} label="Jig, G-code" />
        <Take href={`/api/jobs/${job.id}/sheets/trial/burn.gcode?${query}`} label="Trial, G-code" />
      </div>
    </>
  )
}

function Take({ href, label }: { href: string; label: string }) {
  return (
    <FileLink href={href}>
      <Download aria-hidden className="size-4" /> {label}
    </FileLink>
  )
}

function KeepJig({ job, asked, kept }: { job: Job; asked: Schema<'JigIn'>; kept: (id: number) => void }) {
  const client = useQueryClient()
  const [name, setName] = useState('')
  const keep = useMutation({
    mutationFn: () =>
      body(
        api.POST('/api/jobs/{job_id}/jigs', { params: { path: { job_id: job.id } }, body: { name, asked } }),
      ),
    onSuccess: async (made) => {
      await fetchAnew.these(client, keys.job(job.id, 'jigs'), keys.jigs)
      kept(made.kept.id)
    },
  })
  return (
    <RefusalScope error={keep.error}>
      <form
        className="mt-3 flex flex-wrap items-end gap-2 border-t border-line pt-3"
        onSubmit={(event) => {
          event.preventDefault()
          keep.mutate()
        }}
      >
        <div className="w-64 max-w-full">
          <TypedField label="Call it" name="name" value={name} set={setName} placeholder="Tag tray" />
        </div>
        <Button type="submit" look="main" disabled={!name.trim() || keep.isPending}>
          Keep it in the shop
        </Button>
      </form>
      <p className="mt-1 text-sm text-soft">
        Kept, it is found again for pieces of this size, laid by its crosses, and burns a load in one file.
      </p>
      {keep.error && <Problem error={keep.error} />}
    </RefusalScope>
  )
}
