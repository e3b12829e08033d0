import { useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { api, body } from '../../api/client'
import { keys } from '../../api/keys'
import { useSettled } from '../../ui/useSettled'
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

/** What is looked for stands in the address, so that a link shows the same; any other choice begins at page one. */
export function useWanted() {
  const [address, setAddress] = useSearchParams()
  const wanted = Object.fromEntries(NAMES.map((name) => [name, address.get(name) ?? ''])) as Record<
    WantedName,
    string
  >
  return {
    wanted,
    narrowed: NAMES.some((name) => name !== 'order' && name !== 'page' && wanted[name] !== ''),
    choose: (changes: Partial<Record<WantedName, string>>) =>
      setAddress(
        (now) => {
          if (!('page' in changes)) now.delete('page')
          for (const [name, value] of Object.entries(changes)) {
            if (value) now.set(name, value)
            else now.delete(name)
          }
          return now
        },
        { replace: !('page' in changes) },
      ),
    clear: () => setAddress({}, { replace: true }),
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
