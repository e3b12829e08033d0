import { useEffect, useRef } from 'react'
import { usePicture } from '../api/hooks'

/** A picture that stays until the next one has come; one that is still being made is asked for again, and one that does
 * not come says why. Where it takes longer than a moment, the one at `coarse` is shown meanwhile. */
export function SteadyPicture({
  src,
  alt,
  ratio,
  coarse,
}: {
  src: string
  alt: string
  ratio: number
  coarse?: string
}) {
  const { data, error, isPending, isPlaceholderData, failureCount } = usePicture(src)
  const isLate = failureCount > 0 && (isPending || isPlaceholderData)
  const first = usePicture(coarse ?? src, isLate && coarse !== undefined)
  const isFirst = isLate && first.data !== undefined && !first.isPlaceholderData
  const shown = isFirst ? first.data : data
  return (
    <span className="relative block rounded-lg bg-line" style={{ aspectRatio: ratio }}>
      {error ? (
        <span role="alert" className="block p-4 text-ember">
          {error.message}
        </span>
      ) : (
        shown && <BlobImage blob={shown} alt={alt} faded={isPlaceholderData && !isFirst} />
      )}
      {isFirst && !error && (
        <span className="absolute bottom-2 left-2 rounded bg-paper px-2 py-1 text-sm text-ink">
          A coarse look; the fine one is being worked out.
        </span>
      )}
    </span>
  )
}

function BlobImage({ blob, alt, faded }: { blob: Blob; alt: string; faded: boolean }) {
  const image = useRef<HTMLImageElement>(null)
  useEffect(() => {
    const address = URL.createObjectURL(blob)
    if (image.current) image.current.src = address
    return () => URL.revokeObjectURL(address)
  }, [blob])
  return (
    <img
      ref={image}
      alt={alt}
      draggable={false}
      className={`block h-full w-full rounded-lg ${faded ? 'opacity-70' : ''}`}
    />
  )
}
