import { useEffect } from 'react'
import { useForm, useWatch } from 'react-hook-form'
import type { Schema } from '../../api/client'
import { useChoice } from '../../api/hooks'
import { Findings, Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TextField } from '../../ui/form'
import { Button, Card, Chapter } from '../../ui/parts'
import { figure, inUnit, toBase, useUnits } from '../../ui/units'
import { LayerSection } from '../../drawing/LayerSection'
import { PieceOutline } from '../../drawing/PieceOutline'

type Job = Schema<'JobIn'>
type Inputs = Omit<Job, 'machine_id' | 'interval_mm'> & { machine_id: string; interval_mm: string }

export function PieceForm({
  catalogue,
  machines,
  start,
  submit,
  error,
  pending,
  label,
  fixed,
}: {
  catalogue: Schema<'Catalogue'>
  machines: Schema<'MachineOut'>[]
  start: Job
  submit: (job: Job) => void
  error: Error | null
  pending: boolean
  label: string
  fixed: boolean
}) {
  const { interval } = useUnits()
  const { register, handleSubmit, control, setValue, getValues } = useForm<Inputs>({
    defaultValues: {
      ...start,
      machine_id: String(start.machine_id),
      interval_mm: figure(inUnit(start.interval_mm, interval), interval.decimals),
    },
  })
  const now = useWatch({ control }) as Inputs
  const choice = useChoice({
    machine_id: Number(now.machine_id),
    substrate: now.substrate,
    process: now.process,
    coat: now.coat,
  })
  const offers = choice.data
  const processes = catalogue.processes.filter((p) => offers?.processes.includes(p.key))
  const process = catalogue.processes.find((p) => p.key === now.process)
  const coat = catalogue.coats.find((c) => c.key === now.coat)
  const substrate = catalogue.substrates.find((s) => s.key === now.substrate)

  // A choice that no longer suits makes room for the first that does.
  useEffect(() => {
    if (!offers || choice.isPlaceholderData || fixed) return
    if (!offers.processes.includes(getValues('process'))) setValue('process', offers.processes[0] ?? '')
  }, [offers, choice.isPlaceholderData, fixed, getValues, setValue])
  useEffect(() => {
    if (!offers || choice.isPlaceholderData || fixed || !offers.coats.length) return
    if (!offers.coats.some((c) => c.key === getValues('coat'))) {
      const first = offers.coats[0]
      setValue('coat', first?.key ?? '')
      setValue('coats', first?.coats ?? 1)
    }
  }, [offers, choice.isPlaceholderData, fixed, getValues, setValue])

  const send = handleSubmit((inputs) => {
    const { interval_mm, machine_id, ...rest } = inputs
    submit({
      ...rest,
      height_mm: inputs.shape === 'disc' ? inputs.width_mm : inputs.height_mm,
      narrow_mm: inputs.shape === 'frustum' ? inputs.narrow_mm : 0,
      // Another coat brings its own usual tool; the Coat chapter chooses a different one.
      tool: inputs.coat === start.coat ? start.tool : '',
      machine_id: Number(machine_id),
      interval_mm: toBase(Number(interval_mm), interval),
    })
  })
  const number = { valueAsNumber: true } as const
  const disc = now.shape === 'disc'
  const round = now.shape === 'cylinder' || now.shape === 'frustum'
  return (
    <form onSubmit={send} noValidate>
      <RefusalScope error={error}>
        <Chapter
          doing={
            <>
              <Card title="The piece">
                <div className="grid gap-3">
                  <TextField
                    label="Name of the job"
                    placeholder="Bed labels, rose walk"
                    {...register('name')}
                  />
                  <SelectField label="Made of" disabled={fixed} {...register('substrate')}>
                    {catalogue.substrates.map((s) => (
                      <option key={s.key} value={s.key}>
                        {s.label}
                        {s.refused ? ' (no)' : ''}
                      </option>
                    ))}
                  </SelectField>
                  <SelectField label="Shape" disabled={fixed} {...register('shape')}>
                    <option value="rectangle">flat, rectangular</option>
                    <option value="disc">flat, round</option>
                    <option value="cylinder">round, straight (jar, tube)</option>
                    <option value="frustum">round, tapered (cloche, cup)</option>
                  </SelectField>
                  <div className="grid grid-cols-2 gap-3">
                    <TextField
                      label={disc || round ? 'Diameter, widest' : 'Width'}
                      unit="mm"
                      type="number"
                      step="any"
                      disabled={fixed}
                      {...register('width_mm', number)}
                    />
                    {!disc && (
                      <TextField
                        label="Height"
                        unit="mm"
                        type="number"
                        step="any"
                        disabled={fixed}
                        {...register('height_mm', number)}
                      />
                    )}
                    {now.shape === 'frustum' && (
                      <TextField
                        label="Diameter, narrowest"
                        unit="mm"
                        type="number"
                        step="any"
                        disabled={fixed}
                        {...register('narrow_mm', number)}
                      />
                    )}
                    <TextField
                      label={round ? 'Wall' : 'Thickness'}
                      unit="mm"
                      type="number"
                      step="any"
                      disabled={fixed}
                      {...register('thickness_mm', number)}
                    />
                    <TextField
                      label="Bare margin"
                      unit="mm"
                      type="number"
                      step="any"
                      {...register('margin_mm', number)}
                    />
                    <TextField label="Pieces" type="number" {...register('pieces', number)} />
                    <TextField label="Spares for grids" type="number" {...register('spares', number)} />
                    <TextField
                      label="Spare worth"
                      unit="pcs"
                      type="number"
                      step="any"
                      {...register('spare_worth', number)}
                    />
                  </div>
                </div>
              </Card>
            </>
          }
          seeing={
            <>
              <Card title="What is wanted, and with what">
                <div className="grid gap-3 sm:grid-cols-2">
                  <SelectField label="Machine" disabled={fixed} {...register('machine_id')}>
                    {machines.map((m) => (
                      <option key={m.id} value={m.id}>
                        {m.name}
                      </option>
                    ))}
                  </SelectField>
                  <SelectField
                    label="Process"
                    disabled={fixed || !processes.length}
                    help={process?.does}
                    {...register('process')}
                  >
                    {processes.map((p) => (
                      <option key={p.key} value={p.key}>
                        {p.label}
                      </option>
                    ))}
                  </SelectField>
                  <SelectField
                    label="Coat"
                    disabled={fixed || !offers?.coats.length}
                    help={coat && `${coat.why} May be burned ${readyText(offers, coat.key)}.`}
                    {...register('coat')}
                  >
                    {(offers?.coats ?? []).map((c) => (
                      <option key={c.key} value={c.key}>
                        {c.label}
                      </option>
                    ))}
                  </SelectField>
                  <div className="grid grid-cols-2 gap-3">
                    <TextField label="Coats" type="number" {...register('coats', number)} />
                    <TextField
                      label={interval.reciprocal ? 'Line density' : 'Line interval'}
                      unit={interval.label}
                      type="number"
                      step="any"
                      {...register('interval_mm')}
                    />
                  </div>
                </div>
              </Card>
              <div className="grid gap-3">
                <Findings list={offers?.findings ?? []} />
              </div>
              <Card>
                <div className="grid items-end gap-6 sm:grid-cols-2">
                  <PieceOutline piece={{ ...now, height_mm: disc ? now.width_mm : now.height_mm }} />
                  {coat && substrate && (
                    <LayerSection
                      job={{
                        thickness_mm: now.thickness_mm || 1,
                        substrate_label: substrate.label,
                        coat_label: coat.label,
                        coat_colour: coat.colour,
                        layer_um: coat.film_um * (now.coats || 1),
                        coats: now.coats || 1,
                      }}
                    />
                  )}
                </div>
              </Card>
            </>
          }
          why={
            <>
              {process && (
                <Card title="How it will be judged">
                  <p>
                    <b>Clean:</b> {process.clean}.
                  </p>
                  <p className="mt-2">
                    <b>Faint:</b> {process.too_little}.
                  </p>
                  <p className="mt-2">
                    <b>Harsh:</b> {process.too_much}.
                  </p>
                </Card>
              )}
              {error !== null && <Problem error={error} />}
              <Button look="main" type="submit" className="text-lg" disabled={pending || offers?.forbidden}>
                {label}
              </Button>
            </>
          }
        />
      </RefusalScope>
    </form>
  )
}

function readyText(offers: Schema<'ChoiceOut'> | undefined, key: string): string {
  const ready = offers?.coats.find((c) => c.key === key)?.ready
  return ready && ready !== 'at once' ? `after ${ready}` : 'at once'
}
