import type { Schema } from '../../api/client'
import { Card, Figures } from '../../ui/parts'

/** What the last run says of the window. */
export function DriftCard({ drift }: { drift: Schema<'DriftOut'> }) {
  const signed = (v: number) => `${v > 0 ? '+' : ''}${v.toFixed(0)}`
  const { low, mid, high } = drift.energy_pct
  return (
    <Card title="Last run against the window" accent={drift.findings.length > 0}>
      <Figures
        rows={[
          ['Clean, expected', `${Math.round(100 * drift.expected_clean)} %`],
          ['Clean, seen', `${Math.round(100 * drift.seen_clean)} %`],
          ['Energy wanted', `${signed(mid)} (${signed(low)} to ${signed(high)}) %`],
        ]}
      />
      {drift.findings.length ? (
        drift.findings.map((f) => (
          <div key={f.code} className="mt-3" role="status">
            <p className="font-bold">{f.message}</p>
            <p className="mt-1">{f.fix}</p>
          </div>
        ))
      ) : (
        <p className="mt-2 text-sm text-soft">Nothing has drifted that this run could tell.</p>
      )}
    </Card>
  )
}
