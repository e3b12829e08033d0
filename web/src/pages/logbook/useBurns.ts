import { useQuery } from '@tanstack/react-query'
import { api, body } from '../../api/client'
import { keys } from '../../api/keys'
import { useSettled } from '../../ui/useSettled'
import { useChosen } from './useChosen'
import type { operations } from '../../api/schema'

type Query = operations['keencoat_jobs_burns_api_search']['parameters']['query']

const NAMES = [
  'words',
  'kind',
  'substrate',
  'process',
  'coat',
  'machine',
  'outcome',
  'defect',
  'since',
  'until',
  'order',
  'page',
] as const
export type WantedName = (typeof NAMES)[number]

/** Any other choice begins at page one. */
export function useWanted() {
  const { wanted, choose, clear } = useChosen(NAMES)
  return {
    wanted,
    narrowed: NAMES.some((name) => name !== 'order' && name !== 'page' && wanted[name] !== ''),
    choose: (changes: Partial<Record<WantedName, string>>) =>
      choose({ page: '', ...changes }, !('page' in changes)),
    clear,
  }
}

export function useBurns(wanted: Record<WantedName, string>) {
  const query = Object.fromEntries(Object.entries(useSettled(wanted)).filter(([, value]) => value !== ''))
  return useQuery({
    queryKey: keys.burns(query),
    // What stands in the address may be anything; the server says what is wrong with it.
    queryFn: () => body(api.GET('/api/logged-burns', { params: { query: query as Query } })),
    placeholderData: (last) => last,
  })
}
