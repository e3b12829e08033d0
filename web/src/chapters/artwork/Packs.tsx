import { useQueryClient } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useEffect } from 'react'
import { api, body, type Schema } from '../../api/client'
import { isOver, useArtPack, useArtPieces, useJobWrite } from '../../api/hooks'
import { fetchAnew, keys } from '../../api/keys'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { Button, FileLink } from '../../ui/parts'
import type { Artwork, Base } from './useArtworkEdit'

type Pack = Schema<'ArtPackOut'>
type Kind = Pack['kind']

const NAMES: Record<Kind, string> = { pdf: 'Proof (PDF)', zip: 'All pieces (ZIP)' }

/** All pieces in one file: made when asked for, watched, called off, taken. */
export function Packs({ job, artwork, base }: { job: Job; artwork: Artwork; base: Base }) {
  const packs = useArtPieces(job.id, artwork.id).data?.packs
  const ask = useJobWrite(job.id, (kind: Kind) =>
    body(
      api.POST('/api/artworks/{artwork_id}/packs', {
        params: { path: { artwork_id: artwork.id } },
        body: { kind },
      }),
    ),
  )
  if (!packs) return null
  const kinds: Kind[] = artwork.pieces > 1 ? ['pdf', 'zip'] : ['pdf']
  return (
    <>
      {kinds.map((kind) => {
        const pack = packs.find((p) => p.kind === kind)
        if (pack && !isOver(pack)) return <Making key={kind} job={job} pack={pack} />
        const fresh = pack?.version === artwork.version && pack.lock_version === base.lock_version
        return pack?.state === 'done' && fresh ? (
          <FileLink key={kind} href={`/api/art-packs/${pack.id}/file`}>
            <Download aria-hidden className="size-4" /> {NAMES[kind]}
          </FileLink>
        ) : (
          <span key={kind}>
            <Button disabled={ask.isPending} onClick={() => ask.mutate(kind)}>
              Make: {NAMES[kind]}
            </Button>
            {pack?.state === 'failed' && <span className="block text-sm text-ember">{pack.trouble}</span>}
          </span>
        )
      })}
      {ask.error && <Problem error={ask.error} />}
    </>
  )
}

function Making({ job, pack: first }: { job: Job; pack: Pack }) {
  const client = useQueryClient()
  const { data: pack } = useArtPack(first)
  const over = isOver(pack)
  useEffect(() => {
    if (over) void fetchAnew.these(client, keys.job(job.id))
  }, [over, client, job.id])
  const off = useJobWrite(job.id, () =>
    body(api.POST('/api/art-packs/{art_pack_id}/stop', { params: { path: { art_pack_id: pack.id } } })),
  )
  return (
    <span className="inline-flex items-center gap-2">
      <span aria-live="polite">
        {NAMES[pack.kind]}: {pack.pieces_done} of {pack.pieces}
      </span>
      <Button look="quiet" disabled={over || off.isPending} onClick={() => off.mutate(undefined)}>
        Call it off
      </Button>
    </span>
  )
}
