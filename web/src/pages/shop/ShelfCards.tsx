import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { fetchAnew } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useShelf } from '../../api/hooks'
import { Loading, Problem } from '../../ui/feedback'
import { RefusalScope, TypedField } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import { OwnCoatForm } from './OwnCoatForm'
import { useSeen } from '../../ui/useSeen'

/** The shelf: coats of the workshop's own, what packs cost, and what counts as dark enough. */
export function ShelfCards() {
  const shelf = useShelf()
  if (shelf.isPending) return <Loading what="shelf" />
  if (shelf.isError) return <Problem error={shelf.error} again={() => void shelf.refetch()} />
  return (
    <>
      <OwnCoats shelf={shelf.data} />
      <Prices shelf={shelf.data} />
    </>
  )
}

function OwnCoats({ shelf }: { shelf: Schema<'ShelfOut'> }) {
  const client = useQueryClient()
  const [adding, setAdding] = useState(false)
  const away = useMutation({
    mutationFn: (coat_id: number) =>
      body(api.DELETE('/api/shelf/coats/{coat_id}', { params: { path: { coat_id } } })),
    onSuccess: () => fetchAnew.everything(client),
  })
  const own = shelf.own_coats.filter((coat) => !coat.put_away)
  if (adding) return <OwnCoatForm shelf={shelf} done={() => setAdding(false)} />
  return (
    <Card title="Coats of your own">
      <ul>
        {own.map((coat) => (
          <li key={coat.id} className="flex items-start justify-between gap-3 border-b border-line py-2">
            <span>
              <span className="font-bold">{coat.name}</span>
              <span className="block text-sm text-soft">
                {coat.parts.map((p) => `${p.parts} ${p.ingredient}`).join(' : ')}; {coat.coats}{' '}
                {coat.coats === 1 ? 'coat' : 'coats'} of {coat.film_um} µm, {coat.before_burn_min} min to the
                burn
              </span>
            </span>
            <Button look="quiet" disabled={away.isPending} onClick={() => away.mutate(coat.id)}>
              put away
            </Button>
          </li>
        ))}
      </ul>
      {own.length === 0 && (
        <p className="text-soft">None yet. What you invent is offered beside the others.</p>
      )}
      {away.error && <Problem error={away.error} />}
      <Button className="mt-3" onClick={() => setAdding(true)}>
        Add a coat
      </Button>
    </Card>
  )
}

function Prices({ shelf }: { shelf: Schema<'ShelfOut'> }) {
  return (
    <Card
      title="What packs cost"
      aside={<span className="text-sm text-soft">our guesses until you say yours</span>}
    >
      <div className="grid gap-x-8 sm:grid-cols-2">
        {shelf.prices.map((price) => (
          <PriceRow key={price.ingredient} price={price} currency={shelf.currency} />
        ))}
      </div>
    </Card>
  )
}

function PriceRow({ price, currency }: { price: Schema<'PriceOut'>; currency: string }) {
  const client = useQueryClient()
  const [open, setOpen] = useState(false)
  const { seen, see } = useSeen(price.version)
  const [pack, setPack] = useState(String(price.pack_ml))
  const [amount, setAmount] = useState(String(price.amount))
  const save = useMutation({
    mutationFn: () =>
      body(
        api.PUT('/api/shelf/prices', {
          body: {
            ingredient: price.ingredient,
            pack_ml: Number(pack),
            amount,
            version: seen,
          },
        }),
      ),
    onSuccess: () => {
      setOpen(false)
      return fetchAnew.everything(client)
    },
  })
  if (!open)
    return (
      <button
        className="flex min-h-11 items-center justify-between gap-3 border-b border-line text-left hover:underline"
        onClick={() => {
          see(price.version)
          setPack(String(price.pack_ml))
          setAmount(String(price.amount))
          setOpen(true)
        }}
        aria-label={`Change the price of ${price.label}`}
      >
        <span>{price.label}</span>
        <span className={`shrink-0 font-mono ${price.own ? '' : 'text-soft'}`}>
          {currency}
          {price.amount} / {price.pack_ml} ml
        </span>
      </button>
    )
  return (
    <RefusalScope error={save.error}>
      <form
        className="grid grid-cols-[1fr_1fr_auto] items-end gap-2 border-b border-line py-2"
        onSubmit={(event) => {
          event.preventDefault()
          save.mutate()
        }}
      >
        <TypedField
          label={price.label}
          unit="ml"
          name="pack_ml"
          inputMode="decimal"
          value={pack}
          set={setPack}
        />
        <TypedField
          label="costs"
          unit={currency}
          name="amount"
          inputMode="decimal"
          value={amount}
          set={setAmount}
        />
        <Button type="submit" disabled={save.isPending}>
          Save
        </Button>
      </form>
    </RefusalScope>
  )
}
