import { useEffect, useRef } from 'react'
import { usePicture } from '../api/hooks'

/** A picture that stays until the next one has come; one that is still being made is asked for again, and one that does
 * not come says why. */
export function SteadyPicture({ src, alt, ratio }: { src: string; alt: string; ratio: number }) {
  const { data, error, isPlaceholderData } = usePicture(src)
  return (
    <span className="block rounded-lg bg-line" style={{ aspectRatio: ratio }}>
      {error ? (
        <span role="alert" className="block p-4 text-ember">
          {error.message}
        </span>
      ) : (
        data && <BlobImage blob={data} alt={alt} faded={isPlaceholderData} />
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
