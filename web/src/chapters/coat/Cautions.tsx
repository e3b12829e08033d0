import { Card } from '../../ui/parts'
import type { CoatPlan as Plan } from '../../api/types'

/** What to mind at these steps; the words are the server's. */
export function Cautions({ plan, steps }: { plan: Plan; steps: ('mix' | 'apply' | 'dry')[] }) {
  const minded = plan.cautions.filter((caution) => (steps as string[]).includes(caution.step))
  return (
    <Card title="Mind">
      <ul className="grid gap-2">
        {minded.map((caution) => (
          <li key={caution.code} className="border-l-4 border-ember pl-3">
            {caution.text}
          </li>
        ))}
        {steps.includes('apply') && <li>Hold pieces by the edges; a fingerprint shows in the mark.</li>}
        <li className="text-sm text-soft">Labels, safety data sheets and local rules come first.</li>
      </ul>
    </Card>
  )
}
