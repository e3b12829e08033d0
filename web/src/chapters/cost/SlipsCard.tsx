import { useState } from 'react'
import { Download } from 'lucide-react'
import type { Schema } from '../../api/client'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { AskedFirst, Button, Card, FileLink } from '../../ui/parts'
import { typedPercent } from '../../ui/units'
import { useWithdrawSlip, useWriteSlip } from './useCost'

type Cost = Schema<'CostOut'>
type Slip = Schema<'SlipOut'>

/** Quotes and receipts: written once under a number, never changed after. */
export function SlipsCard({
  jobId,
  cost,
  show,
}: {
  jobId: number
  cost: Cost
  show: (amount: string) => string
}) {
  // What was quoted is asked for; until the batch is done, a further quote goes by what is reckoned now.
  const usual = (cost.done ? cost.quoted_price : cost.plan?.price) ?? cost.done?.price ?? ''
  const [typed, setTyped] = useState<string | null>(null)
  const write = useWriteSlip(jobId)
  const price = typed ?? usual
  const writing = (kind: Slip['kind']) => () => write.mutate({ kind, price: price || '0' })
  return (
    <RefusalScope error={write.error}>
      <Card
        title="Quotes and receipts"
        aside={<FileLink href="/api/slips.csv">All of the shop, CSV</FileLink>}
      >
        <div className="flex flex-wrap items-start gap-3">
          <div className="w-44">
            <TypedField
              label="A piece, before tax"
              name="price"
              unit={cost.currency}
              inputMode="decimal"
              value={price}
              set={setTyped}
            />
          </div>
          <div className="flex flex-wrap gap-3 sm:mt-5.5">
            {cost.plan && (
              <Button onClick={writing('quote')} disabled={write.isPending}>
                Write a quote for {cost.plan.good}
              </Button>
            )}
            {cost.done && (
              <Button onClick={writing('receipt')} disabled={write.isPending}>
                Write a receipt for {cost.done.good}
              </Button>
            )}
          </div>
        </div>
        {write.error && (
          <div className="mt-3">
            <Problem error={write.error} />
          </div>
        )}
        <p className="mt-2 text-sm text-soft">
          {Number(cost.tax_share) > 0
            ? `${typedPercent(cost.tax_share)} % tax comes on top. `
            : 'No tax is added. '}
          {cost.told.for_whom ? `For ${cost.told.for_whom}. ` : 'For nobody by name. '}
          {cost.quoted_price && `Last quoted at ${show(cost.quoted_price)}. `}
          Tax and letterhead stand in Shop, Rates.
        </p>
        {cost.slips.length > 0 && (
          <ul className="mt-3">
            {cost.slips.map((slip) => (
              <SlipRow key={slip.id} jobId={jobId} slip={slip} show={show} />
            ))}
          </ul>
        )}
      </Card>
    </RefusalScope>
  )
}

function SlipRow({ jobId, slip, show }: { jobId: number; slip: Slip; show: (amount: string) => string }) {
  const withdraw = useWithdrawSlip(jobId)
  const [asked, setAsked] = useState(false)
  const gone = slip.withdrawn_at !== null
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-b border-line py-2 last:border-0">
      <span className={gone ? 'text-soft line-through' : ''}>
        <b className="font-mono">{slip.code}</b>, {slip.written}
        <span className="block text-sm text-soft">
          {slip.good} × {show(slip.price)}
          {Number(slip.tax) > 0 && ` + ${show(slip.tax)} tax`} ={' '}
          <span className="font-mono">{show(slip.asked)}</span>
        </span>
      </span>
      <span className="flex flex-wrap items-center gap-2">
        {gone ? (
          <span className="text-sm text-soft">withdrawn</span>
        ) : (
          <Button onClick={() => setAsked(true)} disabled={asked}>
            Withdraw …
          </Button>
        )}
        <FileLink href={`/api/slips/${slip.id}/slip.pdf`}>
          <Download aria-hidden className="size-4" /> PDF
        </FileLink>
      </span>
      {asked && !gone && (
        <AskedFirst
          act={`Withdraw ${slip.code}`}
          busy={withdraw.isPending}
          onAct={() => withdraw.mutate(slip.id)}
          onKeep={() => setAsked(false)}
          className="basis-full"
        >
          It stays in the list, struck out, and its number is not given again.
        </AskedFirst>
      )}
      {withdraw.error && <Problem error={withdraw.error} />}
    </li>
  )
}
