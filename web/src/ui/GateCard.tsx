import { Clock } from 'lucide-react'
import type { Schema } from '../api/client'
import { Loading, Problem } from './feedback'
import { More } from './More'
import { Card } from './parts'
import { dayAndClock } from './units'
import { useGate } from './useGate'

/** What must be so before the beam goes on this job's pieces, in a card of its own. */
export function GateCard({ jobId, children }: { jobId: number; children?: React.ReactNode }) {
  return (
    <Card title="Before the beam goes on">
      <GateLines jobId={jobId} />
      {children}
    </Card>
  )
}

/** The conditions, as the shop's eyewear and the drying line have them; nothing is ticked here. */
export function GateLines({ jobId }: { jobId: number }) {
  const found = useGate(jobId)
  if (found.isPending) return <Loading what="gate" />
  if (found.isError) return <Problem error={found.error} again={() => void found.refetch()} />
  const { gate, deference } = found.data
  return (
    <>
      <ul>
        {gate.map((item) => (
          <li key={item.code} className="border-b border-line py-1.5 last:border-0">
            {item.text}
            {item.asks && <span className="block text-sm text-soft">{item.why}</span>}
            {item.blocked && (
              <b className="mt-1 flex items-start gap-2">
                <Clock aria-hidden className="mt-0.5 size-4 shrink-0 text-frost" />
                <span>
                  Not yet: <Blocked item={item} />
                </span>
              </b>
            )}
          </li>
        ))}
      </ul>
      <More heading="Why">
        <ul className="grid gap-2 text-sm text-soft">
          {gate
            .filter((item) => item.why && !item.asks)
            .map((item) => (
              <li key={item.code}>{item.why}</li>
            ))}
        </ul>
      </More>
      <p className="mt-2 text-sm text-soft">{deference}</p>
    </>
  )
}

/** Why a condition cannot be so yet, and when it may be. */
export function Blocked({ item }: { item: Schema<'GateItemOut'> }) {
  return (
    <>
      {item.blocked}
      {item.until && ` It should be at ${dayAndClock(item.until)}.`}
    </>
  )
}
