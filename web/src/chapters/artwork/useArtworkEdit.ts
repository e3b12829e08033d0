import { useQueryClient } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import { keys } from '../../api/keys'
import { useDraft } from '../../ui/useDraft'

export type Artwork = Schema<'ArtworkOut'>
export type Spec = Schema<'SpecIO'>
export type Base = Schema<'ArtBaseOut'>

/** What is asked of an artwork, as it is being changed; what is at rest for a moment goes to the server. */
export function useArtworkEdit(jobId: number, artwork: Artwork) {
  const client = useQueryClient()
  const all = keys.job(jobId, 'artworks')
  const { value, change, ...draft } = useDraft<Spec>(
    { value: artwork.spec, version: artwork.version },
    {
      after_ms: 200,
      write: async (spec, version) => {
        const kept = await body(
          api.PUT('/api/artworks/{artwork_id}', {
            params: { path: { artwork_id: artwork.id } },
            body: { name: artwork.name, spec, version },
          }),
        )
        client.setQueryData<Schema<'ArtworksOut'>>(all, (old) =>
          old ? { ...old, artworks: old.artworks.map((a) => (a.id === kept.id ? kept : a)) } : old,
        )
        return { value: kept.spec, version: kept.version }
      },
      refetch: () => client.invalidateQueries({ queryKey: all }),
    },
  )
  return {
    ...draft,
    spec: value,
    change: (part: Partial<Spec>) => change((old) => ({ ...old, ...part })),
    tone: (part: Partial<Spec['tone']>) => change((old) => ({ ...old, tone: { ...old.tone, ...part } })),
    place: (part: Partial<Spec['placement']>) =>
      change((old) => ({ ...old, placement: { ...old.placement, ...part } })),
  }
}

export type Edit = ReturnType<typeof useArtworkEdit>
