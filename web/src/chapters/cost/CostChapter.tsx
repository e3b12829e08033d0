import { useState } from 'react'
import { Link } from 'react-router'
import type { Schema } from '../../api/client'
import type { Job } from '../../api/types'
import { COST_WORDS, CostStrata } from '../../drawing/CostStrata'
import { Loading, Problem } from '../../ui/feedback'
import { Card, Chapter, Figures } from '../../ui/parts'
import { percent, useUnits } from '../../ui/units'
import { CostForm } from './CostForm'
import { SlipsCard } from './SlipsCard'
import { useCost } from './useCost'

type Cost = Schema<'CostOut'>
type Priced = Schema<'PricedOut'>

/** What a good piece costs and sells for, and what else could be done. */
export default function CostChapter({ job }: { job: Job }) {
  const found = useCost(job.id)
  // After a save it begins anew; what somebody else changes meanwhile leaves what is typed here.
  const [form, anew] = useState(0)
  if (found.isPending) return <Loading what="cost" />
  if (found.isError) return <Problem error={found.error} again={() => void found.refetch()} />
  const cost = found.data
  const show = (amount: number | string) => `${Number(amount).toFixed(2)} ${cost.currency}`
  return (
    <Chapter
      doing={<CostForm key={form} jobId={job.id} cost={cost} done={() => anew(form + 1)} />}
      seeing={
        <>
          {cost.plan ? (
            <PriceCard title="A good piece" priced={cost.plan} show={show} />
          ) : (
            <Card accent>
              <p className="text-lg font-bold">Nothing can be reckoned yet</p>
              <p className="text-soft">{cost.why_not}</p>
            </Card>
          )}
          {cost.done && (
            <PriceCard title={`Batch ${cost.done_batch}, as it came out`} priced={cost.done} show={show} />
          )}
          {(cost.plan ?? cost.done ?? cost.slips[0]) && <SlipsCard jobId={job.id} cost={cost} show={show} />}
          {cost.plan && <WhatIfs cost={cost} mid={Number(cost.plan.per_good.mid)} show={show} />}
        </>
      }
      why={<Why cost={cost} show={show} />}
    />
  )
}

function PriceCard({
  title,
  priced,
  show,
}: {
  title: string
  priced: Priced
  show: (amount: number | string) => string
}) {
  const { low, mid, high } = priced.per_good
  return (
    <Card title={title} accent>
      <div className="flex flex-wrap items-end gap-x-10 gap-y-3">
        <p>
          <span className="block text-sm text-soft">costs</span>
          <span className="font-mono text-4xl font-bold">{show(mid)}</span>
          {(low !== mid || high !== mid) && (
            <span className="block text-sm text-soft">
              {show(low)} to {high === null ? 'nobody knows what' : show(high)}, nine times in ten
            </span>
          )}
        </p>
        <p>
          <span className="block text-sm text-soft">sells for</span>
          <span className="font-mono text-4xl font-bold">{show(priced.price)}</span>
          <span className="block text-sm text-soft">
            {priced.earned !== null && `an hour of hands earns ${show(priced.earned)}`}
          </span>
        </p>
      </div>
      <div className="mt-4">
        <CostStrata lines={priced.lines} good={priced.good} show={show} />
      </div>
      <p className="mt-3">
        {priced.good} good pieces, {Number(priced.burned.toFixed(1))} burned, {Number(priced.hands_h)} h of
        hands: <b className="font-mono">{show(priced.total)}</b> in all, {show(priced.asked)} asked.
      </p>
    </Card>
  )
}

const SCHOOLS: Record<string, string> = {
  recommended: 'The setting that the window recommends',
  fastest_cell: 'The fastest clean cell',
  forgiving: 'The most forgiving setting',
  cooler_passes: 'Several cooler passes',
}

function WhatIfs({
  cost,
  mid,
  show,
}: {
  cost: Cost
  mid: number
  show: (amount: number | string) => string
}) {
  const { showSpeed } = useUnits()
  const round = cost.next_round
  return (
    <Card title="What if">
      {round && (
        <p className="mb-3">
          <b>One more grid round</b> of {round.cells} cells costs {show(round.costs)} and is expected to save{' '}
          {show(round.saves)} on this batch: {round.pays ? 'it pays.' : 'it does not pay.'}
        </p>
      )}
      <ul>
        {cost.what_ifs.map((way) => {
          const each = Number(way.per_good.mid)
          const change = mid ? (100 * (each - mid)) / mid : 0
          return (
            <li
              key={`${way.kind} ${way.words}`}
              className="grid grid-cols-[minmax(0,1fr)_auto_4.5rem] items-baseline gap-3 border-b border-line py-2 last:border-0"
            >
              <span>
                {way.kind === 'setting' ? (SCHOOLS[way.words] ?? way.words) : way.words}
                {way.setting && (
                  <span className="block font-mono text-sm text-soft">
                    {way.setting.power_pct} %, {showSpeed(way.setting.speed_mm_s)}
                    {way.setting.passes > 1 && ` × ${way.setting.passes}`}
                  </span>
                )}
              </span>
              <span className="font-mono">{show(each)}</span>
              <span className={`text-right font-mono text-sm ${change < 0 ? 'text-glaze' : 'text-soft'}`}>
                {change > 0 ? '+' : change < 0 ? '−' : ''}
                {Math.abs(change).toFixed(0)} %
              </span>
            </li>
          )
        })}
      </ul>
      <p className="mt-2 text-sm text-soft">
        One thing changed at a time, a good piece each. Another coat is taken to come out clean as often: its
        own window says what it does.
      </p>
    </Card>
  )
}

function Why({ cost, show }: { cost: Cost; show: (amount: number | string) => string }) {
  return (
    <>
      {cost.plan && (
        <Card title="The batch by its lines">
          <Figures rows={cost.plan.lines.map((line) => [COST_WORDS[line.kind], show(line.amount)])} />
        </Card>
      )}
      <Card title="Why">
        {cost.clean && (
          <p>
            Of 100 pieces {percent(cost.clean.mid).replace(' %', '')} are expected clean (
            {percent(cost.clean.low)} to {percent(cost.clean.high)}), as the window says: the others are paid
            for by the good ones.
          </p>
        )}
        <p className="mt-2 text-sm text-soft">
          {cost.rates_own ? 'Rates are the shop’s own' : 'Rates are our guess: say your own'} in{' '}
          <Link className="underline underline-offset-4" to="/shop#rates">
            Shop
          </Link>
          . An estimate, never a promise, and before tax.
        </p>
      </Card>
    </>
  )
}
