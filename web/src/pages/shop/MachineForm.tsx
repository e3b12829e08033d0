import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useForm, useWatch } from 'react-hook-form'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TextField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { inUnit, toBase, useUnits } from '../../ui/units'
import { useSeen } from '../../ui/useSeen'

type Machine = Schema<'MachineIn'>

/** Stands for the unit of speed that the reader chose. */
const SPEED = 'speed'

const FIGURES: {
  name: Exclude<keyof Machine, 'name' | 'source' | 'pulsing'>
  label: string
  unit: string
  help?: string
}[] = [
  {
    name: 'rated_w',
    label: 'Optical power at 100 %',
    unit: 'W',
    help: 'What leaves the lens, not the input power.',
  },
  { name: 'spot_mm', label: 'Spot diameter', unit: 'mm', help: 'In focus, 1/e². 0.1 is a fair guess.' },
  { name: 'min_speed_mm_s', label: 'Slowest', unit: SPEED },
  { name: 'max_speed_mm_s', label: 'Fastest', unit: SPEED },
  { name: 'min_power_pct', label: 'Least steady power', unit: '%' },
  { name: 'accel_mm_s2', label: 'Acceleration', unit: 'mm/s²' },
  { name: 'bed_x_mm', label: 'Bed, across', unit: 'mm' },
  { name: 'bed_y_mm', label: 'Bed, deep', unit: 'mm' },
]
const START: Machine = {
  name: '',
  source: 'blue',
  rated_w: 10,
  spot_mm: 0.1,
  min_speed_mm_s: 5,
  max_speed_mm_s: 200,
  min_power_pct: 2,
  accel_mm_s2: 2000,
  bed_x_mm: 400,
  bed_y_mm: 400,
  pulsing: null,
}
const PULSES: typeof FIGURES = [
  { name: 'pulse_mj', label: 'Energy of a pulse', unit: 'mJ', help: 'At the rate beside it.' },
  { name: 'pulse_rate_khz', label: 'Pulses', unit: 'kHz' },
]

function withSpeeds(machine: Machine, turn: (speed: number) => number): Machine {
  return {
    ...machine,
    min_speed_mm_s: turn(machine.min_speed_mm_s),
    max_speed_mm_s: turn(machine.max_speed_mm_s),
  }
}

export function MachineForm({ machine, done }: { machine: Schema<'MachineOut'> | null; done: () => void }) {
  const client = useQueryClient()
  const { seen } = useSeen(machine?.version ?? 0)
  const beams = useCatalogue().data?.beams ?? []
  const { speed } = useUnits()
  const { register, handleSubmit, control } = useForm<Machine>({
    defaultValues: withSpeeds(machine ?? START, (mm_s) => Number(inUnit(mm_s, speed).toPrecision(6))),
  })
  const figures = useWatch({ control, name: 'pulsing' }) === 'pulsed' ? [...FIGURES, ...PULSES] : FIGURES
  const save = useMutation({
    mutationFn: (values: Machine) =>
      machine
        ? body(
            api.PUT('/api/machines/{machine_id}', {
              params: { path: { machine_id: machine.id } },
              body: { ...values, version: seen },
            }),
          )
        : body(api.POST('/api/machines', { body: values })),
    onSuccess: async () => {
      await fetchAnew.everything(client)
      done()
    },
  })
  return (
    <Card title={machine ? 'Change the machine' : 'New machine'} accent>
      <RefusalScope error={save.error}>
        <form
          noValidate
          className="grid gap-3 sm:grid-cols-2"
          onSubmit={handleSubmit((values) =>
            save.mutate(withSpeeds(values, (shown) => toBase(shown, speed))),
          )}
        >
          <TextField label="Name" {...register('name')} />
          <SelectField label="Beam" {...register('source')}>
            {beams.map((beam) => (
              <option key={beam.key} value={beam.key}>
                {beam.label}
              </option>
            ))}
          </SelectField>
          <SelectField
            label="How the beam comes out"
            help="For eyewear: pulses hurt more than their average power tells."
            {...register('pulsing', { setValueAs: (value: string) => value || null })}
          >
            <option value="">as is usual for this beam</option>
            <option value="continuous">steadily</option>
            <option value="pulsed">in pulses</option>
            <option value="unknown">not known</option>
          </SelectField>
          {figures.map(({ name, label, unit, help }) => (
            <TextField
              key={name}
              label={label}
              unit={unit === SPEED ? speed.label : unit}
              help={help}
              type="number"
              step="any"
              {...register(name, { valueAsNumber: true })}
            />
          ))}
          <div className="flex gap-3 sm:col-span-2">
            <Button look="main" type="submit" disabled={save.isPending}>
              Save the machine
            </Button>
            <Button look="quiet" onClick={done}>
              Leave it
            </Button>
          </div>
          {save.isError && (
            <div className="sm:col-span-2">
              <Problem error={save.error} />
            </div>
          )}
        </form>
      </RefusalScope>
    </Card>
  )
}
