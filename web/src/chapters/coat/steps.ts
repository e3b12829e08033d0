import type { CoatPlan, Job } from '../../api/types'

/** What every step of the chapter is given. */
export type StepProps = { job: Job; plan: CoatPlan }

export type StepKey = 'choose' | 'mix' | 'apply' | 'dry' | 'prove'

type Facts = Pick<CoatPlan, 'put_on' | 'mixed' | 'lots' | 'drying'>

/** Where the hands are: the step that opens first. */
export function currentStep({ put_on, mixed, lots, drying }: Facts): StepKey {
  if (!put_on) return 'choose'
  if (mixed && !lots.length && !drying.coats_on) return 'mix'
  if (!drying.all_on) return 'apply'
  return drying.ready ? 'prove' : 'dry'
}

/** Which steps carry a tick; proven is what a real photo has measured. */
export function stepsDone({ put_on, mixed, lots, drying }: Facts, coat_cv: number | null) {
  return {
    choose: true,
    mix: !mixed || lots.length > 0,
    apply: !put_on || drying.all_on,
    dry: !put_on || (drying.all_on && drying.ready),
    prove: coat_cv !== null,
  } satisfies Record<StepKey, boolean>
}
