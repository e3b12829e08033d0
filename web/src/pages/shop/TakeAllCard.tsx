import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, body, uploadArchive, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import { FilePick } from '../../ui/FilePick'
import { Problem } from '../../ui/feedback'
import { Card, FileLink } from '../../ui/parts'
import { dayAndClock } from '../../ui/units'

type Archive = Schema<'BroughtArchiveOut'>

const isUnderWay = ({ state }: Archive) => state === 'queued' || state === 'running'

/** All that the shop keeps, to take along; and another workshop's, to bring in. */
export function TakeAllCard() {
  const client = useQueryClient()
  const archives = useQuery({
    queryKey: keys.archives,
    queryFn: () => body(api.GET('/api/brought-archives')),
    refetchInterval: (found) => (found.state.data?.some(isUnderWay) ? 1500 : false),
  })
  const bring = useMutation({
    mutationFn: uploadArchive,
    onSuccess: () => fetchAnew.these(client, keys.archives),
  })
  return (
    <Card title="Everything in one file">
      <p className="mb-3">
        Jobs, grids, ratings, photos, settings, batches and the logbook as JSON, CSV and pictures: yours to
        keep. People and the practice bench are not in it.
      </p>
      <FileLink href="/api/workshop.zip">Take everything out</FileLink>
      <h3 className="mt-5 mb-2 font-bold">Bring such a file in</h3>
      <p className="mb-3">
        Another workshop’s, or this one’s of an earlier day. What is here already stays as it is; nothing
        comes twice. Its own rates and scatter are not taken over.
      </p>
      <FilePick
        accept=".zip"
        pick={bring.mutate}
        disabled={bring.isPending || archives.data?.some(isUnderWay) === true}
      >
        Bring an archive in
      </FilePick>
      {bring.error && <Problem error={bring.error} />}
      <ul className="mt-3 grid gap-3">
        {archives.data?.map((archive) => (
          <li key={archive.id} className="border-t border-line pt-3">
            <b className="break-words">{archive.name}</b>
            <span className="block font-mono text-sm text-soft">{dayAndClock(archive.asked_at)}</span>
            {isUnderWay(archive) && <p role="status">It is read and checked, row by row …</p>}
            {archive.trouble && <p className="text-ember">{archive.trouble}</p>}
            {archive.report && <Report report={archive.report} />}
          </li>
        ))}
      </ul>
    </Card>
  )
}

function Report({ report }: { report: Schema<'ArchiveReportOut'> }) {
  const left = report.skipped.length + report.more
  return (
    <>
      <p>
        Of {report.source}: {counted(report.brought) || 'nothing new'}
        {counted(report.here) && `; here already: ${counted(report.here)}`}.
      </p>
      {left > 0 && (
        <details className="mt-1">
          <summary className="min-h-11 cursor-pointer content-center">Left out: {left}</summary>
          <ul className="list-disc space-y-1 pl-5 text-sm">
            {report.skipped.map(({ what, why }) => (
              <li key={`${what} ${why}`}>
                <b>{what}</b>: {why}
              </li>
            ))}
          </ul>
          {report.more > 0 && <p className="text-sm text-soft">and {report.more} more.</p>}
        </details>
      )}
    </>
  )
}

/** Rows by kind, the most first. */
const counted = (rows: Record<string, number>) =>
  Object.entries(rows)
    .sort(([, a], [, b]) => b - a)
    .map(([kind, n]) => `${kind.replaceAll('-', ' ')} ${n}`)
    .join(', ')
