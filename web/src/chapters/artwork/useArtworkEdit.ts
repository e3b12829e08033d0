import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { keys } from '../../api/keys'
import { useSettledWrite } from '../../ui/useSettledWrite'

export type Artwork = Schema<'ArtworkOut'>
export type Spec = Schema<'SpecIO'>
export type Base = Schema<'ArtBaseOut'>

/** What is asked of an artwork, as it is being changed; what is at rest for a moment goes to the server. */
export function useArtworkEdit(jobId: number, artwork: Artwork) {
  const client = useQueryClient()
  const [spec, setSpec] = useState(artwork.spec)
  // As the last write left it, which the page may not have been drawn with yet.
  const versionNow = () =>
    client
      .getQueryData<Schema<'ArtworksOut'>>(keys.job(jobId, 'artworks'))
      ?.artworks.find((a) => a.id === artwork.id)?.version ?? artwork.version
  const write = useMutation({
    mutationFn: (wanted: Spec) =>
      body(
        api.PUT('/api/artworks/{artwork_id}', {
          params: { path: { artwork_id: artwork.id } },
          body: { name: artwork.name, spec: wanted, version: versionNow() },
        }),
      ),
    onSuccess: (kept) => {
      client.setQueryData<Schema<'ArtworksOut'>>(keys.job(jobId, 'artworks'), (all) =>
        all ? { ...all, artworks: all.artworks.map((a) => (a.id === kept.id ? kept : a)) } : all,
      )
    },
  })
  useSettledWrite(spec, artwork.spec, 200, write)
  return {
    spec,
    error: write.error,
    isPending: write.isPending,
    change: (part: Partial<Spec>) => setSpec((old) => ({ ...old, ...part })),
    tone: (part: Partial<Spec['tone']>) => setSpec((old) => ({ ...old, tone: { ...old.tone, ...part } })),
    place: (part: Partial<Spec['placement']>) =>
      setSpec((old) => ({ ...old, placement: { ...old.placement, ...part } })),
  }
}

export type Edit = ReturnType<typeof useArtworkEdit>
