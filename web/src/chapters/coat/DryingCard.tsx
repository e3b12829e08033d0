import type { Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { useAlarm, useAlarmSetting } from '../../ui/alarm'
import { Card } from '../../ui/parts'
import { DryingLine } from '../../drawing/DryingLine'
import { dryingBars } from '../../drawing/dryingBars'
import { TickField } from '../../ui/form'

/** The drying line of some jobs with its quiet alarm; `empty` stands there while nothing dries. */
export function DryingCard({
  jobs,
  turns,
  now,
  empty,
  className,
}: {
  jobs: Job[]
  turns: Schema<'TurnOut'>[]
  now: number
  empty: string
  className?: string
}) {
  const [sound, setSound] = useAlarmSetting()
  const bars = dryingBars(jobs)
  useAlarm(
    bars.flatMap((bar) => bar.group.next_at ?? []),
    now,
    sound,
  )
  return (
    <Card
      title="Drying line"
      className={className}
      aside={
        <TickField checked={sound} onChange={(e) => setSound(e.target.checked)}>
          Sound softly when something is due
        </TickField>
      }
    >
      {bars.length ? (
        <DryingLine bars={bars} turns={turns} now={now} />
      ) : (
        <p className="text-soft">{empty}</p>
      )}
    </Card>
  )
}
