import { Download } from 'lucide-react'
import { useState } from 'react'
import type { Schema } from '../../api/client'
import { useJig } from '../../api/hooks'
import type { Job } from '../../api/types'
import { JigView } from '../../drawing/JigView'
import { Problem } from '../../ui/feedback'
import { FigureField } from '../../ui/FigureField'
import { RefusalScope, TickField } from '../../ui/form'
import { Card, FileLink } from '../../ui/parts'
import { useSettled } from '../../ui/useSettled'

type Wish = {
  sheet_width_mm: number
  sheet_height_mm: number
  play_mm: number
  kerf_mm: number
  gap_mm: number
  margin_mm: number
  finger_mm: number
  hole_deg?: number
  across: boolean
  mirrored: boolean
}

/** Pockets for the batch on a sheet: as many as fit, in which loads, and the file to cut them. */
export function JigCard({ job }: { job: Job }) {
  const [wish, setWish] = useState<Wish>({
    sheet_width_mm: Math.max(300, Math.ceil(job.face.width_mm) + 40),
    sheet_height_mm: Math.max(200, Math.ceil(job.face.height_mm) + 40),
    play_mm: 0.4,
    kerf_mm: 0.15,
    gap_mm: 6,
    margin_mm: 12,
    finger_mm: 0,
    across: false,
    mirrored: false,
  })
  const asked = useSettled(wish, 300)
  const found = useJig(job.id, asked)
  const put = (part: Partial<Wish>) => setWish((old) => ({ ...old, ...part }))
  const figures: [string, keyof Wish, string?][] = [
    ['Sheet, wide', 'sheet_width_mm'],
    ['Sheet, high', 'sheet_height_mm'],
    ['Play', 'play_mm'],
    ['Kerf', 'kerf_mm'],
    ['Gap', 'gap_mm'],
    ['Margin', 'margin_mm'],
    ['Finger notch', 'finger_mm'],
    ['Hole points', 'hole_deg', '°'],
  ]
  const query = new URLSearchParams(Object.entries(asked).map(([key, value]) => [key, String(value)]))
  return (
    <RefusalScope error={found.error}>
      <Card title="A jig for the batch">
        <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
          {figures.map(([label, name, unit]) => (
            <FigureField
              key={name}
              label={label}
              name={name}
              unit={unit}
              value={(wish[name] as number | undefined) ?? null}
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
              Cut one pocket first and try a piece in it. Numbers and lines are marked, not cut.
            </p>
            <div className="mt-3">
              <FileLink href={`/api/jobs/${job.id}/jig.svg?${query.toString()}`}>
                <Download aria-hidden className="size-4" /> Jig, SVG
              </FileLink>
            </div>
          </>
        )}
      </Card>
    </RefusalScope>
  )
}

function loadsText(loads: Schema<'LoadOut'>[]) {
  const last = loads.at(-1)
  if (!last) return ''
  if (loads.length === 1) return `All ${last.last_piece} pieces lie in it at once, piece 1 in pocket 1.`
  return `${loads.length} loads: ${loads.map((l) => `${l.first_piece} to ${l.last_piece}`).join(', ')}; each begins in pocket 1.`
}
