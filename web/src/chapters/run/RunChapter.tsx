import { Printer } from 'lucide-react'
import type { Schema } from '../../api/client'
import { useRunSheet } from '../../api/hooks'
import type { Job } from '../../api/types'
import { BatchCard } from '../practice/BatchCard'
import { Empty, Loading, Problem } from '../../ui/feedback'
import { Button, Card, LinkButton } from '../../ui/parts'
import { TakeFile } from '../../ui/TakeFile'
import { BatchDesk } from './BatchDesk'
import { RunsCard } from './RunsCard'
import { SheetArtworks } from './SheetArtworks'
import { TickField } from '../../ui/form'
import { More } from '../../ui/More'

export default function RunChapter({ job }: { job: Job }) {
  const sheet = useRunSheet(job.id, !!job.locked)
  if (!job.locked)
    return (
      <Empty title="No setting is locked yet">
        <p>The run sheet is written from a locked setting and its evidence.</p>
        <LinkButton look="main" className="mt-4" to={`/jobs/${job.id}/${job.next.chapter}`}>
          {job.next.title}
        </LinkButton>
      </Empty>
    )
  if (sheet.isPending) return <Loading what="run sheet" />
  if (sheet.isError) return <Problem error={sheet.error} again={() => void sheet.refetch()} />
  const [setting, ...sections] = sheet.data.sections
  return (
    <div className="grid gap-4">
      <BatchDesk job={job} />
      <BatchCard job={job} />
      <div className="flex flex-wrap items-center justify-between gap-3">
        <h2 className="text-xl font-bold">
          Run sheet <span className="font-normal text-soft">version {sheet.data.version}</span>
          <span className="hidden print:inline">: {sheet.data.title}</span>
        </h2>
        <div className="no-print flex flex-wrap gap-2">
          <TakeFile href={`/api/jobs/${job.id}/run-sheet.pdf`}>PDF</TakeFile>
          <Button onClick={() => print()}>
            <Printer aria-hidden className="size-4" /> Print this page
          </Button>
          <LinkButton to={`/jobs/${job.id}/grid`}>Test again</LinkButton>
        </div>
      </div>
      {setting && (
        <Card accent>
          <dl className="grid gap-x-8 gap-y-4 sm:grid-cols-2 lg:grid-cols-4">
            {setting.lines.map((line, index) => (
              <div key={line.label}>
                <dt className="text-sm font-bold text-soft">{line.label}</dt>
                <dd className={`font-mono ${index < 4 ? 'text-3xl font-bold' : 'text-lg'}`}>{line.value}</dd>
                {line.detail && <dd className="text-sm text-soft">{line.detail}</dd>}
              </div>
            ))}
          </dl>
        </Card>
      )}
      <SheetArtworks job={job} />
      <div className="gap-4 md:columns-2">
        {sections.map((section) => (
          <Card key={section.title} title={section.title} className="mb-4 break-inside-avoid">
            <ul>
              {section.lines.map((line) => (
                <li key={line.label} className="border-b border-line last:border-0">
                  <TickLine line={line} />
                </li>
              ))}
            </ul>
          </Card>
        ))}
      </div>
      {!job.practice && (
        <More heading="Count a run that nobody followed piece by piece" className="no-print">
          <RunsCard job={job} />
        </More>
      )}
      <p className="text-sm text-soft">{sheet.data.deference}</p>
    </div>
  )
}

/** A line of the sheet; where it is ticked, all of it can be pressed. */
function TickLine({ line }: { line: Schema<'SheetLineOut'> }) {
  const words = (
    <span>
      <b>{line.label}</b>
      {line.value && <span>: {line.value}</span>}
      {line.detail && <span className="block text-sm text-soft">{line.detail}</span>}
    </span>
  )
  if (!line.tick) return <p className="py-2 pl-8">{words}</p>
  return <TickField className="cursor-pointer py-2">{words}</TickField>
}
