import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'

export type CardsWanted = { words: string; substrate: string; process: string; machine_id: string }

/** Only what is chosen. */
export const queryOf = (wanted: CardsWanted) =>
  Object.fromEntries(Object.entries(wanted).filter(([, value]) => value !== ''))

export const useCards = (wanted: CardsWanted) =>
  useQuery({
    queryKey: keys.cards(wanted),
    queryFn: () =>
      body(
        api.GET('/api/setting-cards', {
          params: {
            query: {
              ...queryOf(wanted),
              machine_id: wanted.machine_id ? Number(wanted.machine_id) : undefined,
            },
          },
        }),
      ),
    placeholderData: (last) => last,
  })

export function useBringCards() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append('file', file)
      return body(api.POST('/api/setting-cards/bring', { body: { file: '' }, bodySerializer: () => form }))
    },
    onSuccess: () => fetchAnew.these(client, keys.cards()),
  })
}

export function usePutAway() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (id: number) =>
      api.DELETE('/api/setting-cards/brought/{card_id}', { params: { path: { card_id: id } } }),
    onSuccess: () => fetchAnew.these(client, keys.cards()),
  })
}

export function useOwnCard(card: Schema<'CardOut'>) {
  const client = useQueryClient()
  const navigate = useNavigate()
  return useMutation({
    mutationFn: (machine_id: number) =>
      body(
        api.POST('/api/setting-cards/own/{lock_id}/use', {
          params: { path: { lock_id: card.lock_id ?? 0 } },
          body: { machine_id, art: card.art },
        }),
      ),
    onSuccess: async (job) => {
      await fetchAnew.everything(client)
      await navigate(`/jobs/${job.id}/grid`)
    },
  })
}
