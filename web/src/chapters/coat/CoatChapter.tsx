import { Check } from 'lucide-react'
import { lazy, Suspense, type ComponentType, type LazyExoticComponent } from 'react'
import { Link, useParams } from 'react-router'
import { useCoatPlan } from '../../api/hooks'
import type { CoatPlan as Plan, Job } from '../../api/types'
import type { StepProps } from './steps'
import { PieceOutline } from '../../drawing/PieceOutline'
import { Loading, Problem } from '../../ui/feedback'
import { PracticeCoat } from '../practice/PracticeCoat'
import { Onward } from '../../ui/Onward'
import { Card, Chapter, LinkButton } from '../../ui/parts'
import { Cautions } from './Cautions'
import { currentStep, stepsDone, type StepKey } from './steps'

const STEPS: Record<StepKey, { label: string; Step: LazyExoticComponent<ComponentType<StepProps>> }> = {
  choose: { label: 'Choose', Step: lazy(() => import('./ChooseStep')) },
  mix: { label: 'Mix', Step: lazy(() => import('./MixStep')) },
  apply: { label: 'Apply', Step: lazy(() => import('./ApplyStep')) },
  dry: { label: 'Dry', Step: lazy(() => import('./DryStep')) },
  prove: { label: 'Prove', Step: lazy(() => import('./ProveStep')) },
}

export default function CoatChapter({ job }: { job: Job }) {
  const { part } = useParams()
  const plan = useCoatPlan(job.id)
  if (plan.isPending) return <Loading what="coat plan" />
  if (plan.isError) return <Problem error={plan.error} again={() => void plan.refetch()} />
  // The step stands in the address, so that what is open never changes under the hands.
  if (!part || !(part in STEPS)) return <Onward to={`/jobs/${job.id}/coat/${currentStep(plan.data)}`} />
  const here = part as StepKey
  const { Step } = STEPS[here]
  const inert = !plan.data.put_on && here !== 'choose' && here !== 'prove'
  return (
    <>
      {job.practice && (
        <div className="mb-4">
          <PracticeCoat job={job} />
        </div>
      )}
      <StepTabs job={job} plan={plan.data} here={here} />
      <Suspense fallback={<Loading what="step" />}>
        {inert ? <NothingToPutOn job={job} plan={plan.data} /> : <Step job={job} plan={plan.data} />}
      </Suspense>
    </>
  )
}

function StepTabs({ job, plan, here }: { job: Job; plan: Plan; here: StepKey }) {
  const done = stepsDone(plan, job.coat_cv)
  return (
    <nav aria-label="Steps of the coat" className="no-print mb-4 overflow-x-auto">
      <ol className="flex min-w-max gap-1 border-b border-line">
        {(Object.keys(STEPS) as StepKey[]).map((key) => (
          <li key={key}>
            <Link
              to={`/jobs/${job.id}/coat/${key}`}
              aria-current={key === here ? 'step' : undefined}
              className={`-mb-px inline-flex min-h-11 items-center gap-1.5 border-b-3 px-3 ${
                key === here ? 'border-glaze font-bold' : 'border-transparent text-soft hover:text-ink'
              }`}
            >
              {STEPS[key].label}
              {done[key] && <Check aria-label="done" className="size-4 text-glaze" />}
            </Link>
          </li>
        ))}
      </ol>
    </nav>
  )
}

function NothingToPutOn({ job, plan }: StepProps) {
  return (
    <Chapter
      doing={
        <Card accent title="Nothing to put on">
          <p className="text-2xl font-bold">The coat comes on the piece</p>
          <p className="mt-2 text-soft">{plan.why}</p>
          <LinkButton look="main" className="mt-4 w-full" to={`/jobs/${job.id}/grid`}>
            To the grid
          </LinkButton>
        </Card>
      }
      seeing={
        <Card>
          <PieceOutline piece={job} />
        </Card>
      }
      why={<Cautions plan={plan} steps={['mix', 'apply', 'dry']} />}
    />
  )
}
