import { useQueryClient } from '@tanstack/react-query'
import type { Schema } from '../../api/client'
import { api, body } from '../../api/client'
import { useJobWrite, useWhy } from '../../api/hooks'
import { keys } from '../../api/keys'
import type { Job } from '../../api/types'
import { ChanceBar } from '../../drawing/ChanceBar'
import { Loading, Problem } from '../../ui/feedback'
import { More } from '../../ui/More'
import { Button, Figures } from '../../ui/parts'
import { useUnits } from '../../ui/units'

type Row = Schema<'BatchRowOut'>
type Why = Schema<'WhyOut'>
type Cause = Schema<'CauseOut'>
type Test = Schema<'CheapTestOut'>

/** Why a piece failed: the likeliest cause with one change, the test that tells more, then the others. */
export function WhyCard({ job, row, open }: { job: Job; row: Row; open: boolean }) {
  const why = useWhy(job.id, row.id, row.version)
  const client = useQueryClient()
  const tell = useJobWrite(job.id, ({ test, answer }: { test: string; answer: string | null }) =>
    body(
      api.PUT('/api/batch-pieces/{piece_id}/why/answer', {
        params: { path: { piece_id: row.id } },
        body: { test, answer, version: why.data?.version ?? row.version },
      }),
    ).then((shown) => {
      client.setQueryData(keys.job(job.id, 'why', row.id, shown.version), shown)
      return shown
    }),
  )
  if (why.isPending) return <Loading what="causes" />
  if (why.isError) return <Problem error={why.error} again={() => void why.refetch()} />
  const [first, ...others] = why.data.causes
  return (
    <section aria-label={`Why piece ${row.number} failed`} className="mt-3 border-t border-line pt-3">
      {first && <CauseOf cause={first} first />}
      {why.data.ask && (
        <Asked test={why.data.ask} pending={tell.isPending} answer={(answer) => tell.mutate(answer)} />
      )}
      {tell.error && <Problem error={tell.error} />}
      {why.data.asked.length > 0 && (
        <ul className="mt-3 text-sm">
          {why.data.asked.map((test) => (
            <li key={test.key} className="flex flex-wrap items-center gap-x-2">
              <span className="text-soft">{test.question}</span>
              <b>{test.answers.find((a) => a.key === test.answer)?.label}</b>
              {open && (
                <Button
                  look="quiet"
                  disabled={tell.isPending}
                  onClick={() => tell.mutate({ test: test.key, answer: null })}
                >
                  Take back
                </Button>
              )}
            </li>
          ))}
        </ul>
      )}
      {others.length > 0 && (
        <More heading={`It may be something else: ${others.map((cause) => cause.label).join(', ')}`}>
          {others.map((cause) => (
            <CauseOf key={cause.key} cause={cause} />
          ))}
        </More>
      )}
      <Since why={why.data} />
    </section>
  )
}

function CauseOf({ cause, first = false }: { cause: Cause; first?: boolean }) {
  const { showSpeed, showInterval } = useUnits()
  const { setting, clean } = cause.remedy
  const share = (value: number) => `${(100 * value).toFixed(0)}`
  return (
    <div className="mb-3">
      <p className="flex flex-wrap items-baseline justify-between gap-x-3">
        <b className={`first-letter:uppercase ${first ? 'text-xl' : ''}`}>{cause.label}</b>
        <span className="font-mono">{share(cause.chance)} in 100</span>
      </p>
      <ChanceBar share={cause.chance} />
      <p className={`mt-2 ${first ? 'text-lg' : ''}`}>{cause.remedy.words}</p>
      {setting && first && (
        <Figures
          rows={[
            ['Power', `${setting.power_pct} %`],
            ['Speed', showSpeed(setting.speed_mm_s)],
            ['Lines', showInterval(setting.interval_mm)],
            ...(clean
              ? ([['Clean then', `${share(clean.low)} to ${share(clean.high)} in 100`]] as [string, string][])
              : []),
          ]}
        />
      )}
      {cause.remedy.or_else && <p className="mt-1 text-sm text-soft">{cause.remedy.or_else}</p>}
      <ul className="mt-1 text-sm">
        {cause.because.map((b) => (
          <li key={b.words} className={b.ln_odds > 0 ? '' : 'text-soft'}>
            {b.ln_odds > 0 ? 'for: ' : 'against: '}
            {b.words}
          </li>
        ))}
      </ul>
      <p className="text-sm text-soft">{cause.source}</p>
    </div>
  )
}

function Asked({
  test,
  pending,
  answer,
}: {
  test: Test
  pending: boolean
  answer: (told: { test: string; answer: string }) => void
}) {
  const minutes = test.minutes < 1 ? 'half a minute' : `${test.minutes.toFixed(0)} min`
  return (
    <div role="group" aria-label="One test" className="my-3 rounded-xl border-2 border-glaze p-3">
      <p className="font-bold">{test.question}</p>
      <p className="text-sm text-soft">It tells the likeliest causes apart, in {minutes}.</p>
      <div className="mt-2 flex flex-wrap gap-2">
        {test.answers.map((one) => (
          <Button
            key={one.key}
            disabled={pending}
            onClick={() => answer({ test: test.key, answer: one.key })}
          >
            {one.label}
          </Button>
        ))}
      </div>
    </div>
  )
}

/** What is otherwise than with the last good piece, and what the window says of the setting. */
function Since({ why }: { why: Why }) {
  const pct = (range: Schema<'RangeOut'>) =>
    `${range.mid.toFixed(0)} % (${range.low.toFixed(0)} to ${range.high.toFixed(0)})`
  return (
    <>
      {why.good !== null && (
        <p className="mt-3">
          Since piece {why.good}, the last good one: {why.since.join(', ')}.
        </p>
      )}
      <More heading="What the window says of this setting">
        <Figures
          rows={[
            ['Clean when nothing is wrong', `${(100 * why.clean.mid).toFixed(0)} in 100`],
            ['Less energy until faint', pct(why.margin_to_faint_pct)],
            ['More energy until harsh', pct(why.margin_to_harsh_pct)],
          ]}
        />
      </More>
      <p className="mt-2 text-sm text-soft">
        Chances are estimates from what you told and measured, not proof. Change one thing at a time.
      </p>
    </>
  )
}
