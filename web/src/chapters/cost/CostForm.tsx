import { useState } from 'react'
import type { Schema } from '../../api/client'
import { RefusalScope, SelectField, TypedField } from '../../ui/form'
import { Problem } from '../../ui/feedback'
import { Button, Card } from '../../ui/parts'
import { typedPercent } from '../../ui/units'
import { useTellCost } from './useCost'
import { useSeen } from '../../ui/useSeen'

type Cost = Schema<'CostOut'>

/** What a piece takes, as far as somebody says; the rest is worked out. */
export function CostForm({ jobId, cost, done }: { jobId: number; cost: Cost; done: () => void }) {
  const { seen } = useSeen(cost.version)
  const { told, usual, currency } = cost
  const [blank, setBlank] = useState(told.blank)
  const [consumables, setConsumables] = useState(told.consumables)
  const [hands, setHands] = useState(told.hands_min ?? '')
  const [finish, setFinish] = useState(told.finish_min ?? '')
  const [machine, setMachine] = useState(told.machine_min ?? '')
  const [setup, setSetup] = useState(told.setup_min)
  const [byWage, setByWage] = useState(told.by_wage)
  const [margin, setMargin] = useState(typedPercent(told.margin))
  const [wage, setWage] = useState(told.wage)
  const [forWhom, setForWhom] = useState(told.for_whom)
  const tell = useTellCost(jobId)
  const short = (minutes: string) => `${Number(Number(minutes).toFixed(1))}`
  return (
    <RefusalScope error={tell.error}>
      <Card title="What a piece takes">
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault()
            tell.mutate(
              {
                blank: blank || '0',
                consumables: consumables || '0',
                hands_min: hands === '' ? null : hands,
                finish_min: finish === '' ? null : finish,
                machine_min: machine === '' ? null : machine,
                setup_min: setup || '0',
                by_wage: byWage,
                margin: (Number(margin) / 100).toFixed(4),
                wage: wage || '0',
                for_whom: forWhom,
                version: seen,
              },
              { onSuccess: done },
            )
          }}
        >
          <div className="grid grid-cols-2 gap-3">
            <TypedField
              label="Blank"
              name="blank"
              unit={currency}
              inputMode="decimal"
              value={blank}
              set={setBlank}
            />
            <TypedField
              label="Consumables"
              name="consumables"
              unit={currency}
              inputMode="decimal"
              value={consumables}
              set={setConsumables}
            />
            <TypedField
              label="Hands"
              name="hands_min"
              unit="min"
              inputMode="decimal"
              placeholder={short(usual.hands_min)}
              value={hands}
              set={setHands}
            />
            <TypedField
              label="Finishing"
              name="finish_min"
              unit="min"
              inputMode="decimal"
              placeholder={short(usual.finish_min)}
              value={finish}
              set={setFinish}
            />
            <TypedField
              label="Machine"
              name="machine_min"
              unit="min"
              inputMode="decimal"
              placeholder={short(usual.machine_min)}
              value={machine}
              set={setMachine}
            />
            <TypedField
              label="Set-up"
              name="setup_min"
              unit="min, once"
              inputMode="decimal"
              value={setup}
              set={setSetup}
            />
          </div>
          <p className="text-sm text-soft">
            Left empty, our figure in grey counts: machine {cost.machine_words}. The coat is reckoned from the
            shop’s prices: {Number(usual.coat).toFixed(2)} {currency} a piece.
          </p>
          <div className="grid grid-cols-2 gap-3">
            <SelectField
              label="Price from"
              name="by_wage"
              value={byWage ? 'wage' : 'margin'}
              onChange={(e) => setByWage(e.target.value === 'wage')}
            >
              <option value="margin">a margin</option>
              <option value="wage">an hour’s wish</option>
            </SelectField>
            {byWage ? (
              <TypedField
                label="An hour should earn"
                name="wage"
                unit={currency}
                inputMode="decimal"
                value={wage}
                set={setWage}
              />
            ) : (
              <TypedField
                label="Margin"
                name="margin"
                unit="% of price"
                inputMode="decimal"
                value={margin}
                set={setMargin}
              />
            )}
          </div>
          <TypedField label="For whom" name="for_whom" maxLength={80} value={forWhom} set={setForWhom} />
          <Button type="submit" look="main" disabled={tell.isPending}>
            Reckon
          </Button>
          {tell.error && <Problem error={tell.error} />}
        </form>
      </Card>
    </RefusalScope>
  )
}
