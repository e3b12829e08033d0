import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import { Loading, Problem } from '../../ui/feedback'
import { LinesField, RefusalScope, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { typedPercent } from '../../ui/units'
import { useSeen } from '../../ui/useSeen'

/** What the shop reckons with: an hour of hands and of the machine, power, fees, tax; and its letterhead. */
export function RatesCard() {
  const [form, anew] = useState(0)
  const rates = useQuery({ queryKey: keys.rates, queryFn: () => body(api.GET('/api/rates')) })
  if (rates.isPending) return <Loading what="rates" />
  if (rates.isError) return <Problem error={rates.error} again={() => void rates.refetch()} />
  return <RatesForm key={form} rates={rates.data} done={() => anew(form + 1)} />
}

function RatesForm({ rates, done }: { rates: Schema<'RatesOut'>; done: () => void }) {
  const { seen } = useSeen(rates.version)
  const client = useQueryClient()
  const [hand, setHand] = useState(rates.hand_hour)
  const [machine, setMachine] = useState(rates.machine_hour)
  const [kwh, setKwh] = useState(rates.kwh)
  const [draw, setDraw] = useState(rates.draw_w)
  const [fees, setFees] = useState(typedPercent(rates.fee_share))
  const [tax, setTax] = useState(typedPercent(rates.tax_share))
  const [head, setHead] = useState(rates.letterhead)
  const save = useMutation({
    mutationFn: (told: Schema<'RatesIn'>) => body(api.PUT('/api/rates', { body: told })),
    onSuccess: async () => {
      await fetchAnew.everything(client)
      done()
    },
  })
  const money = rates.currency
  return (
    <RefusalScope error={save.error}>
      <Card title="Rates" aside={!rates.own && <span className="text-sm text-soft">our guess so far</span>}>
        <form
          id="rates"
          className="grid grid-cols-2 gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            save.mutate({
              hand_hour: hand || '0',
              machine_hour: machine || '0',
              kwh: kwh || '0',
              draw_w: draw || '0',
              fee_share: (Number(fees) / 100).toFixed(4),
              tax_share: (Number(tax) / 100).toFixed(4),
              letterhead: head,
              version: seen,
            })
          }}
        >
          <TypedField
            label="Hands, an hour"
            name="hand_hour"
            unit={money}
            inputMode="decimal"
            value={hand}
            set={setHand}
          />
          <TypedField
            label="Machine, an hour"
            name="machine_hour"
            unit={money}
            inputMode="decimal"
            value={machine}
            set={setMachine}
          />
          <TypedField
            label="A kilowatt-hour"
            name="kwh"
            unit={money}
            inputMode="decimal"
            value={kwh}
            set={setKwh}
          />
          <TypedField
            label="It draws"
            name="draw_w"
            unit="W"
            inputMode="numeric"
            value={draw}
            set={setDraw}
          />
          <TypedField
            label="Fees"
            name="fee_share"
            unit="% of price"
            inputMode="decimal"
            value={fees}
            set={setFees}
          />
          <TypedField
            label="Tax"
            name="tax_share"
            unit="% of price"
            inputMode="decimal"
            value={tax}
            set={setTax}
          />
          <div className="col-span-2">
            <LinesField
              label="Heads quotes and receipts"
              name="letterhead"
              rows={3}
              maxLength={500}
              placeholder="Name, address, tax number"
              value={head}
              set={setHead}
            />
          </div>
          <Button type="submit" className="col-span-2 justify-self-start" disabled={save.isPending}>
            Keep the rates
          </Button>
        </form>
        {save.error && <Problem error={save.error} />}
      </Card>
    </RefusalScope>
  )
}
