import { api, type Schema } from '../../api/client'
import { Findings, Problem } from '../../ui/feedback'
import { GateLines } from '../../ui/GateCard'
import { More } from '../../ui/More'
import { Card, Figures } from '../../ui/parts'
import { percent, showJoules, showMinutes, useUnits } from '../../ui/units'
import type { Job } from '../../api/types'
import { TakeFile } from '../../ui/TakeFile'
import { Packs } from './Packs'
import type { Artwork, Base } from './useArtworkEdit'

type ArtFigures = Schema<'ArtFiguresOut'>

/** What one piece takes, what the beam can hold, and what to mind. */
export function FiguresCard({
  base,
  engraved,
  figures,
  error,
  pieces,
  across,
}: {
  base: Base
  engraved: boolean
  figures: ArtFigures | undefined
  error: unknown
  pieces: number
  across: boolean
}) {
  const { showSpeed, showInterval, showSmall } = useUnits()
  const setting = engraved ? base.engraving : base.setting
  return (
    <Card title="What it takes">
      {error ? <Problem error={error} /> : null}
      {figures && !error && (
        <>
          {figures.why ? (
            <p className="text-ember">
              “{figures.label}” is left out. {figures.why}
            </p>
          ) : (
            <>
              <p className="font-mono text-2xl font-bold">about {showMinutes(figures.seconds / 60)}</p>
              <p className="mb-2 text-sm text-soft">
                this piece; {showMinutes(figures.batch_seconds / 60)} for {pieces} like it
              </p>
              <Figures
                rows={[
                  engraved
                    ? ['lines', `${(figures.lit_mm / 1000).toFixed(2)} m`]
                    : ['burned', `${(figures.lit_mm2 / 100).toFixed(1)} cm²`],
                  ['energy', showJoules(figures.energy_j)],
                  ...(engraved
                    ? []
                    : [
                        ['largest fill', `${figures.fill_mm.toFixed(1)} mm`] as [string, string],
                        ['it may warm by', range(figures.fill_k)] as [string, string],
                      ]),
                  ['the piece by', range(figures.plate_k)],
                  ['expected faint', doubt(figures.shares.faint, figures.shares.called_faint)],
                  ['expected harsh', doubt(figures.shares.harsh, figures.shares.called_harsh)],
                ]}
              />
            </>
          )}
        </>
      )}
      {figures && !error && figures.ways.length > 0 && <Ways figures={figures} across={across} />}
      <h3 className="mt-4 text-sm font-bold text-soft">This setting holds</h3>
      <Figures
        rows={[
          ['finest line', base.line_mm ? showSmall(base.line_mm, 2) : 'none alone'],
          ['finest gap', showSmall(base.gap_mm, 2)],
          ['smallest capitals', showSmall(base.capital_mm, 1)],
          ['as type', `${Math.ceil(base.capital_pt)} pt`],
          ['capitals of single strokes', showSmall(base.engraved_capital_mm, 1)],
        ]}
      />
      <p className="mt-3 text-sm text-soft">
        {setting.power_pct} %, {showSpeed(setting.speed_mm_s)}, lines {showInterval(setting.interval_mm)},{' '}
        {setting.passes} {setting.passes === 1 ? 'pass' : 'passes'}: setting version {base.lock_version}. A
        new lock makes the artwork again.
      </p>
      {figures && figures.findings.length > 0 && (
        <div className="mt-3 grid gap-2">
          <Findings list={figures.findings} />
        </div>
      )}
    </Card>
  )
}

const WAYS: Record<Schema<'OtherWay'>, string> = {
  turned: 'piece turned a quarter on the bed',
  wider: 'lines a fifth wider apart',
  one_pass_less: 'one pass less',
  outlines: 'outlines only, nothing filled',
  all_lines: 'empty lines and ends not left out',
}

/** What the same would take, done otherwise. */
function Ways({ figures, across }: { figures: ArtFigures; across: boolean }) {
  return (
    <>
      <h3 className="mt-4 text-sm font-bold text-soft">Done otherwise</h3>
      <table className="w-full text-sm">
        <tbody>
          {figures.ways.map(({ way, seconds, tested }) => (
            <tr key={way} className="border-b border-line last:border-0">
              <th scope="row" className="py-1 pr-2 text-left font-normal">
                {way === 'turned' && across ? 'piece not turned' : WAYS[way]}
                {!tested && <span className="text-soft">, wants a test</span>}
              </th>
              <td className="py-1 text-right font-mono whitespace-nowrap">
                {showMinutes(seconds / 60)}
                <span className="block text-soft">{change(seconds / figures.seconds)}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

const change = (share: number) => {
  const pct = Math.round(100 * (share - 1))
  return pct === 0 ? 'the same' : `${pct > 0 ? '+' : '−'}${Math.abs(pct)} %`
}

/** How much fails on the whole, and in how much of it each place likely does. */
const doubt = (expected: number, called: number) => (
  <>
    {percent(expected)}
    {called > 0.005 && <span className="block text-sm text-soft">{percent(called)} likely so</span>}
  </>
)

const range = ([low, high]: number[]) =>
  low === undefined || high === undefined ? '–' : `${low.toFixed(0)} to ${Math.max(1, high).toFixed(0)} K`

const FILES = [
  ['gcode', 'G-code'],
  ['png', 'PNG'],
  ['grey', 'Grey PNG'],
  ['svg', 'SVG'],
] as const

/** The files that a laser and a drawing program take. */
export function FilesCard({
  job,
  artwork,
  base,
  piece,
  usable,
}: {
  job: Job
  artwork: Artwork
  base: Base
  piece: number
  usable: boolean
}) {
  // What is taken is kept as evidence, as it is seen here.
  const keep = () =>
    api.POST('/api/artworks/{artwork_id}/taken', {
      params: { path: { artwork_id: artwork.id } },
      body: { version: artwork.version },
    })
  return (
    <Card title="Take it">
      {base.mirrored && <p className="mb-2">Mirrored in the files: the mark is seen through the piece.</p>}
      <p className="mb-2">{sentence(base.focus)}</p>
      <More heading="Before the beam goes on: eyewear, extraction, dry coat" className="mb-3">
        <GateLines jobId={job.id} />
      </More>
      <div className="flex flex-wrap gap-2">
        {usable && (
          <>
            {FILES.filter(([kind]) => kind !== (artwork.kind === 'picture' ? 'svg' : 'grey')).map(
              ([kind, label]) => (
                <TakeFile
                  key={kind}
                  href={`/api/artworks/${artwork.id}/files/${kind}?piece=${piece}`}
                  before={keep}
                >
                  {label}
                </TakeFile>
              ),
            )}
          </>
        )}
        <Packs job={job} artwork={artwork} base={base} />
      </div>
    </Card>
  )
}

const sentence = (words: string) => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`
