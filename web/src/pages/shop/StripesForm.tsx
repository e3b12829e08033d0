import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button, Card, FileLink } from '../../ui/parts'
import { toBase, useUnits } from '../../ui/units'
import { PairTable, readPairs } from './PairTable'

/** Stripes burned both ways at several speeds: whether lines to and fro meet. */
export function StripesForm({ machine, kept }: { machine: Schema<'MachineOut'>; kept: () => void }) {
  const { speed } = useUnits()
  const [power, setPower] = useState('')
  const [pace, setPace] = useState('')
  const [rows, setRows] = useState<[string, string][]>([
    ['', ''],
    ['', ''],
    ['', ''],
  ])
  const keep = useMutation({
    mutationFn: (input: Schema<'StripesIn'>) =>
      body(
        api.POST('/api/machines/{machine_id}/stripe-tests', {
          params: { path: { machine_id: machine.id } },
          body: input,
        }),
      ),
    onSuccess: kept,
  })
  const pairs = readPairs(rows)
  const [watts, at] = [Number(power.replace(',', '.')), toBase(Number(pace.replace(',', '.')), speed)]
  return (
    <RefusalScope error={keep.error}>
      <Card title="Stripes both ways">
        <p>
          Give a power and speed that mark. Three bars of upright stripes are burned at half of it, at it, and
          half as fast again. Where their edges are combed, measure how far one line’s end lies from the next
          one’s: above 0 where each line begins too late.
        </p>
        <div className="mt-3 grid gap-3 sm:grid-cols-2">
          <TypedField
            label="Power"
            name="power_pct"
            unit="%"
            inputMode="decimal"
            value={power}
            set={setPower}
          />
          <TypedField
            label="Speed that marks"
            name="stripes_speed"
            unit={speed.label}
            inputMode="decimal"
            value={pace}
            set={setPace}
          />
        </div>
        {watts > 0 && at > 0 && (
          <div className="mt-3">
            <FileLink href={`/api/machines/${machine.id}/stripes.gcode?power_pct=${watts}&speed_mm_s=${at}`}>
              G-code of the stripes
            </FileLink>
            <p className="mt-1 text-sm text-soft">
              Eyewear on, extraction running, and somebody stays with it.
            </p>
          </div>
        )}
        <PairTable
          rows={rows}
          setRows={setRows}
          first={`Speed, ${speed.label}`}
          second="Apart, mm"
          name="offsets"
        />
        <Button
          look="main"
          className="mt-3"
          disabled={!pairs || keep.isPending}
          onClick={() =>
            pairs &&
            keep.mutate({
              offsets: pairs.map(([v, offset_mm]) => ({ speed_mm_s: toBase(v, speed), offset_mm })),
            })
          }
        >
          Read the stripes
        </Button>
        {keep.isError && <Problem error={keep.error} />}
      </Card>
    </RefusalScope>
  )
}
