import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useEyewear } from '../../api/hooks'
import { fetchAnew, keys } from '../../api/keys'
import { Problem } from '../../ui/feedback'
import { RefusalScope, TickField, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { useSeen } from '../../ui/useSeen'

type Pair = Schema<'EyewearOut'>

/** The shop's eyewear by what is printed on it: the gate of a run picks the pair that covers the beam. */
export function EyewearCard() {
  const pairs = useEyewear()
  const [editing, setEditing] = useState<number | 'new' | null>(null)
  return (
    <Card title="Eyewear">
      {pairs.isError && <Problem error={pairs.error} again={() => void pairs.refetch()} />}
      {pairs.data?.length === 0 && (
        <p className="text-soft">
          None is listed. Copy what is printed on each pair: the gate then picks one.
        </p>
      )}
      <ul className="grid gap-3">
        {pairs.data?.map((pair) => (
          <li key={pair.id} className="border-b border-line pb-3 last:border-0 last:pb-0">
            {editing === pair.id ? (
              <PairForm pair={pair} done={() => setEditing(null)} />
            ) : (
              <PairRow pair={pair} edit={() => setEditing(pair.id)} />
            )}
          </li>
        ))}
      </ul>
      {editing === 'new' ? (
        <PairForm pair={null} done={() => setEditing(null)} />
      ) : (
        <Button className="mt-3" onClick={() => setEditing('new')}>
          List a pair
        </Button>
      )}
    </Card>
  )
}

function PairRow({ pair, edit }: { pair: Pair; edit: () => void }) {
  return (
    <div className="flex items-start justify-between gap-3">
      <div className={pair.put_away ? 'text-soft' : ''}>
        <p className="font-bold">
          {pair.name}
          {pair.put_away && ', put away'}
        </p>
        {pair.bands.map((band) => (
          <p key={band.from_nm} className="font-mono text-sm">
            {band.from_nm}–{band.to_nm} nm, OD {band.density}
            {band.for_pulses && ', pulses'}
          </p>
        ))}
      </div>
      <Button onClick={edit}>Change</Button>
    </div>
  )
}

interface TypedBand {
  from_nm: string
  to_nm: string
  density: string
  for_pulses: boolean
}
const EMPTY: TypedBand = { from_nm: '', to_nm: '', density: '', for_pulses: false }

function typed(pair: Pair | null): TypedBand[] {
  if (!pair) return [EMPTY]
  return pair.bands.map((band) => ({
    from_nm: String(band.from_nm),
    to_nm: String(band.to_nm),
    density: String(band.density),
    for_pulses: band.for_pulses,
  }))
}

function PairForm({ pair, done }: { pair: Pair | null; done: () => void }) {
  const client = useQueryClient()
  const { seen } = useSeen(pair?.version ?? 0)
  const [name, setName] = useState(pair?.name ?? '')
  const [away, setAway] = useState(pair?.put_away ?? false)
  const [bands, setBands] = useState(() => typed(pair))
  const save = useMutation({
    mutationFn: () => {
      const told = {
        name,
        bands: bands.map((band) => ({
          from_nm: Number(band.from_nm),
          to_nm: Number(band.to_nm),
          density: Number(band.density),
          for_pulses: band.for_pulses,
        })),
      }
      if (!pair) return body(api.POST('/api/eyewear', { body: told }))
      return body(
        api.PUT('/api/eyewear/{eyewear_id}', {
          params: { path: { eyewear_id: pair.id } },
          body: { ...told, put_away: away, version: seen },
        }),
      )
    },
    onSuccess: done,
    onSettled: () => fetchAnew.these(client, keys.eyewear, keys.everyJob),
  })
  const change = (n: number, what: Partial<TypedBand>) =>
    setBands(bands.map((band, at) => (at === n ? { ...band, ...what } : band)))
  const usable =
    name.trim() !== '' && bands.every((b) => Number(b.from_nm) && Number(b.to_nm) && Number(b.density))
  return (
    <RefusalScope error={save.error}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <TypedField label="Called" name="name" value={name} set={setName} maxLength={60} />
        {bands.map((band, n) => (
          <fieldset key={n} className="grid grid-cols-3 gap-2">
            <legend className="mb-1 text-sm text-soft">Band {n + 1}, as printed on the frame</legend>
            {(['from_nm', 'to_nm', 'density'] as const).map((field) => (
              <TypedField
                key={field}
                label={{ from_nm: 'From', to_nm: 'to', density: 'OD' }[field]}
                unit={field === 'density' ? undefined : 'nm'}
                name={field}
                inputMode="decimal"
                value={band[field]}
                set={(text) => change(n, { [field]: text })}
              />
            ))}
            <TickField
              className="col-span-3"
              checked={band.for_pulses}
              onChange={(event) => change(n, { for_pulses: event.target.checked })}
            >
              marked for pulses too (I, R or M beside D)
            </TickField>
          </fieldset>
        ))}
        <div className="flex flex-wrap gap-2">
          <Button look="quiet" onClick={() => setBands([...bands, EMPTY])}>
            Another band
          </Button>
          {bands.length > 1 && (
            <Button look="quiet" onClick={() => setBands(bands.slice(0, -1))}>
              Leave the last one out
            </Button>
          )}
        </div>
        {pair && (
          <TickField checked={away} onChange={(event) => setAway(event.target.checked)}>
            Put away: scratched, cracked or lent
          </TickField>
        )}
        <div className="flex gap-2">
          <Button type="submit" look="main" disabled={!usable || save.isPending}>
            Save
          </Button>
          <Button onClick={done}>Leave it</Button>
        </div>
        {save.error && <Problem error={save.error} />}
      </form>
    </RefusalScope>
  )
}
