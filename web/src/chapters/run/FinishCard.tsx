import type { Schema } from '../../api/client'
import { TickField } from '../../ui/form'
import { Card } from '../../ui/parts'
import { figure } from '../../ui/units'
import type { BatchDeeds } from './useBatchDeeds'

/** “2 to 5 min”, “8 to 24 h”. */
function showSpan([low = 0, high = 0]: number[]): string {
  const [unit, many] = high >= 120 ? (['h', 60] as const) : (['min', 1] as const)
  return `${figure(low / many, 0)} to ${figure(high / many, 0)} ${unit}`
}

/** What comes after the last look: with its times, what to mind, and what never. */
export function FinishCard({ batch, deeds }: { batch: Schema<'BatchOut'>; deeds: BatchDeeds }) {
  if (batch.finishes.length === 0 && batch.refused_finishes.length === 0) return null
  return (
    <Card title="Finish the pieces">
      <ul>
        {batch.finishes.map((step) => (
          <li key={step.name} className="border-b border-line py-1 last:border-0">
            <TickField
              className="cursor-pointer"
              checked={step.done}
              disabled={deeds.pending}
              onChange={() => deeds.finish(step)}
            >
              <b>{step.label}</b>
              {step.agent && `, ${step.agent}`}: {step.text}
              {(step.minutes[1] ?? 0) > 0 && (
                <span className="font-mono whitespace-nowrap text-soft"> · {showSpan(step.minutes)}</span>
              )}
              {step.caution && <span className="block text-sm text-ember">{step.caution}</span>}
            </TickField>
          </li>
        ))}
      </ul>
      {batch.refused_finishes.map((words) => (
        <p key={words} className="mt-2 text-sm">
          <b className="text-ember">Never:</b> {words}
        </p>
      ))}
    </Card>
  )
}
