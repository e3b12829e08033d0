import { useState } from 'react'
import { uploadArtwork, type Schema } from '../../api/client'
import { useJobWrite } from '../../api/hooks'
import type { Job } from '../../api/types'
import { Problem } from '../../ui/feedback'
import { FilePick } from '../../ui/FilePick'
import { LinesField, RefusalScope } from '../../ui/form'
import { Button, Card } from '../../ui/parts'
import type { Artwork } from './useArtworkEdit'

const KINDS: [Schema<'ArtKind'>, string, string][] = [
  ['picture', 'A photo', 'image/jpeg,image/png,image/tiff,image/heic,image/heif,.heic,.tif'],
  ['drawing', 'A drawing (SVG)', 'image/svg+xml,.svg'],
  ['names', 'Names, one a piece (CSV)', 'text/csv,.csv,text/plain'],
]

/** What the maker has: brought as it is, and chosen among what was brought before. */
export function BringCard({
  job,
  artworks,
  here,
  choose,
}: {
  job: Job
  artworks: Artwork[]
  here: number | null
  choose: (id: number) => void
}) {
  const [text, setText] = useState('')
  const bring = useJobWrite(job.id, (brought: { file: File; kind: Schema<'ArtKind'> }) =>
    uploadArtwork(job.id, {
      ...brought,
      name: brought.file.name.replace(/\.\w+$/, '').slice(0, 60) || brought.kind,
    }),
  )
  const start = (kind: Schema<'ArtKind'>) => (file: File) =>
    bring.mutate({ file, kind }, { onSuccess: (made) => choose(made.id) })
  return (
    <Card title="What you have" accent={artworks.length === 0}>
      {artworks.length > 0 && (
        <ul className="mb-3 grid gap-1">
          {artworks.map((artwork) => (
            <li key={artwork.id}>
              <button
                aria-current={artwork.id === here}
                onClick={() => choose(artwork.id)}
                className={`min-h-11 w-full rounded-lg px-3 py-2 text-left ${artwork.id === here ? 'bg-frost-tint font-bold' : 'hover:bg-frost-tint'}`}
              >
                {artwork.name}
                <span className="block text-sm font-normal text-soft">{kindWords(artwork)}</span>
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="grid gap-2">
        {KINDS.map(([of, label, accept]) => (
          <FilePick key={of} accept={accept} disabled={bring.isPending} pick={start(of)}>
            {bring.isPending && bring.variables.kind === of ? 'Reading it …' : label}
          </FilePick>
        ))}
      </div>
      <div className="mt-3 grid gap-2">
        <RefusalScope error={bring.error}>
          <LinesField
            label="Or type a text"
            name="words"
            rows={2}
            value={text}
            set={setText}
            help="The same on every piece."
          />
        </RefusalScope>
        <Button
          disabled={bring.isPending || !text.trim()}
          onClick={() =>
            bring.mutate(
              {
                file: new File([text], `${text.trim().split('\n')[0]}.txt`, { type: 'text/plain' }),
                kind: 'text',
              },
              {
                onSuccess: (made) => {
                  setText('')
                  choose(made.id)
                },
              },
            )
          }
        >
          Set this text
        </Button>
      </div>
      {bring.isError && (
        <div className="mt-3">
          <Problem error={bring.error} />
        </div>
      )}
    </Card>
  )
}

function kindWords(artwork: Artwork): string {
  if (artwork.kind === 'names') return `${artwork.pieces} names`
  if (artwork.kind === 'drawing')
    return artwork.groups.length > 1 ? `drawing in ${artwork.groups.length} groups` : 'drawing'
  return artwork.kind === 'text' ? 'text' : 'photo'
}
