import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate, useSearchParams } from 'react-router'
import { fetchAnew, keys } from '../../api/keys'
import { api, body, type Schema } from '../../api/client'
import { useCatalogue, useMachines } from '../../api/hooks'
import { Loading, Problem } from '../../ui/feedback'
import { LinkButton } from '../../ui/parts'
import { PieceForm } from '../../chapters/piece/PieceForm'
import { Heading } from '../../ui/Heading'

export default function NewJobPage() {
  const navigate = useNavigate()
  const client = useQueryClient()
  const catalogue = useCatalogue()
  const machines = useMachines()
  const [address] = useSearchParams()
  const cardId = Number(address.get('card') ?? 0)
  const cards = useQuery({
    queryKey: keys.cards({}),
    queryFn: () => body(api.GET('/api/setting-cards')),
    enabled: cardId > 0,
  })
  const card = cards.data?.find((c) => c.card_id === cardId)
  const make = useMutation({
    mutationFn: (job: Schema<'JobIn'>) =>
      card?.card_id
        ? body(
            api.POST('/api/setting-cards/brought/{card_id}/use', {
              params: { path: { card_id: card.card_id } },
              body: job,
            }),
          )
        : body(api.POST('/api/jobs', { body: job })),
    onSuccess: async (job) => {
      await fetchAnew.everything(client)
      await navigate(`/jobs/${job.id}/coat`)
    },
  })
  if (catalogue.isPending || machines.isPending) return <Loading what="catalogue" />
  if (catalogue.isError) return <Problem error={catalogue.error} />
  if (machines.isError) return <Problem error={machines.error} />
  if (cards.isLoading) return <Loading what="card" />
  const fitting = machines.data.filter((m) => !card || m.source === card.beam)
  const machine = fitting.find((m) => m.id === Number(address.get('machine'))) ?? fitting[0]
  return (
    <>
      <Heading title="New job" className="mb-4">
        New job
      </Heading>
      {card && (
        <p className="mb-4 rounded-2xl border border-dashed border-soft bg-card p-4">
          From a card of {card.workshop || 'another workshop'}: {card.coat_words} on {card.substrate_words}.
          It is a hint, no fact; the job begins with a small grid that confirms it.
        </p>
      )}
      {machine ? (
        <PieceForm
          catalogue={catalogue.data}
          machines={machines.data}
          start={startValues(catalogue.data, machine, card)}
          submit={(job) => make.mutate(job)}
          error={make.error}
          pending={make.isPending}
          label="Make the job"
          fixed={false}
        />
      ) : (
        <p>
          {card
            ? `This card is for a ${card.beam_words} beam, and none of your lasers has one.`
            : 'First Keen Coat needs to know your laser.'}{' '}
          <LinkButton to="/shop">Add a machine</LinkButton>
        </p>
      )}
    </>
  )
}

function startValues(
  catalogue: Schema<'Catalogue'>,
  machine: Schema<'MachineOut'>,
  card: Schema<'CardOut'> | undefined,
): Schema<'JobIn'> {
  const substrate = card?.substrate ?? catalogue.substrates[0]?.key ?? ''
  return {
    name: '',
    shape: 'rectangle',
    width_mm: 100,
    height_mm: 100,
    narrow_mm: 80,
    thickness_mm: card?.thickness_mm || 4,
    margin_mm: 3,
    pieces: 8,
    spares: 2,
    spare_worth: 1,
    substrate,
    process: card?.process ?? '',
    machine_id: machine.id,
    coat: card?.coat ?? '',
    tool: '',
    coats: card?.coats ?? 1,
    interval_mm: card?.interval_mm ?? 0.1,
  }
}
