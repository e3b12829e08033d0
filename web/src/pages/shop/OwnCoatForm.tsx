import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useFieldArray, useForm, type DefaultValues } from 'react-hook-form'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { RefusalScope, SelectField, TextField, TickField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'

type OwnCoat = Schema<'NewCoatIn'>

/** Nothing is chosen for the maker: what is in a coat decides what it may touch. */
const START: DefaultValues<OwnCoat> = {
  name: '',
  parts: [{ ingredient: '', parts: 1 }],
  tools: [],
  crossed: false,
  removal: '',
  absorbs: [],
  serves: [],
  touch_safe: false,
  caution: '',
  by_mass: false,
}

/** A coat that the maker invents. */
export function OwnCoatForm({ shelf, done }: { shelf: Schema<'ShelfOut'>; done: () => void }) {
  const client = useQueryClient()
  const catalogue = useCatalogue().data
  const { register, handleSubmit, control } = useForm<OwnCoat>({ defaultValues: START })
  const parts = useFieldArray({ control, name: 'parts' })
  const save = useMutation({
    mutationFn: (coat: OwnCoat) => body(api.POST('/api/shelf/coats', { body: coat })),
    onSuccess: async () => {
      await fetchAnew.everything(client)
      done()
    },
  })
  const number = { valueAsNumber: true } as const
  const figures = [
    ['coats', 'Coats', ''],
    ['film_um', 'Dry film, a coat', 'µm'],
    ['solids_pct', 'Solids by volume', '%'],
    ['between_min', 'Between coats', 'min'],
    ['before_burn_min', 'Before burning', 'min'],
  ] as const
  return (
    <Card title="A coat of your own" accent>
      <RefusalScope error={save.error}>
        <form noValidate className="grid gap-4" onSubmit={handleSubmit((coat) => save.mutate(coat))}>
          <div className="grid gap-3 sm:grid-cols-3">
            <TextField label="Name" {...register('name')} />
            <SelectField label="What must dry out of it" {...register('carrier')}>
              <option value="">choose</option>
              {['water', 'alcohol', 'solvent', 'none'].map((key) => (
                <option key={key}>{key}</option>
              ))}
            </SelectField>
            <SelectField label="Colour" {...register('colour')}>
              <option value="">choose</option>
              {shelf.colours.map((key) => (
                <option key={key}>{key}</option>
              ))}
            </SelectField>
            {figures.map(([name, label, unit]) => (
              <TextField
                key={name}
                label={label}
                unit={unit}
                type="number"
                step="any"
                {...register(name, number)}
              />
            ))}
            <TextField label="Comes off with" {...register('removal')} />
          </div>
          <fieldset className="grid gap-2">
            <legend className="text-sm font-bold">Parts</legend>
            {parts.fields.map((field, index) => (
              <div key={field.id} className="grid grid-cols-[2fr_1fr_auto] items-end gap-2">
                <TextField label="Ingredient" list="ingredients" {...register(`parts.${index}.ingredient`)} />
                <TextField
                  label="Parts"
                  type="number"
                  step="any"
                  {...register(`parts.${index}.parts`, number)}
                />
                <Button look="quiet" disabled={parts.fields.length === 1} onClick={() => parts.remove(index)}>
                  remove
                </Button>
              </div>
            ))}
            <datalist id="ingredients">
              {shelf.prices.map((price) => (
                <option key={price.ingredient} value={price.ingredient}>
                  {price.label}
                </option>
              ))}
            </datalist>
            <Button className="justify-self-start" onClick={() => parts.append({ ingredient: '', parts: 1 })}>
              Another ingredient
            </Button>
          </fieldset>
          <Ticks legend="Tools" name="tools" options={shelf.tools} register={register} />
          <Ticks legend="For" name="serves" options={catalogue?.processes ?? []} register={register} />
          <Ticks legend="Absorbs" name="absorbs" options={catalogue?.beams ?? []} register={register} />
          <div className="flex flex-wrap gap-x-6">
            <TickField {...register('by_mass')}>Parts are by weight</TickField>
            <TickField {...register('crossed')}>Crossed at 90°</TickField>
            <TickField {...register('touch_safe')}>May be touched when dry</TickField>
          </div>
          <TextField label="What to mind" {...register('caution')} />
          {save.error && <Problem error={save.error} />}
          <div className="flex gap-3">
            <Button look="main" type="submit" disabled={save.isPending}>
              Put it on the shelf
            </Button>
            <Button look="quiet" onClick={done}>
              Leave it
            </Button>
          </div>
        </form>
      </RefusalScope>
    </Card>
  )
}

function Ticks({
  legend,
  name,
  options,
  register,
}: {
  legend: string
  name: 'tools' | 'serves' | 'absorbs'
  options: { key: string; label: string }[]
  register: ReturnType<typeof useForm<OwnCoat>>['register']
}) {
  return (
    <fieldset>
      <legend className="text-sm font-bold">{legend}</legend>
      <div className="flex flex-wrap gap-x-6">
        {options.map((option) => (
          <TickField key={option.key} value={option.key} {...register(name)}>
            {option.label}
          </TickField>
        ))}
      </div>
    </fieldset>
  )
}
