import { Camera, FileUp } from 'lucide-react'
import type { ReactNode } from 'react'

const PHOTOS = 'image/jpeg,image/png,image/heic,image/heif'

/** A button that takes a file; a photo from the camera on a phone. */
export function FilePick({
  children,
  pick,
  disabled,
  main = false,
  accept = PHOTOS,
}: {
  children: ReactNode
  pick: (file: File) => void
  disabled: boolean
  main?: boolean
  accept?: string
}) {
  const Icon = accept === PHOTOS ? Camera : FileUp
  return (
    <label
      className={`inline-flex min-h-11 cursor-pointer items-center justify-center gap-2 rounded-xl px-4 py-2 text-center font-bold has-focus-visible:outline-3 has-focus-visible:outline-frost ${
        main ? 'bg-glaze text-lg text-on-glaze' : 'border border-line bg-card'
      } ${disabled ? 'opacity-50' : ''}`}
    >
      <Icon aria-hidden className="size-5 shrink-0" />
      <span className="min-w-0 wrap-break-word">{children}</span>
      <input
        type="file"
        accept={accept}
        className="sr-only"
        disabled={disabled}
        onChange={(event) => {
          const file = event.target.files?.[0]
          event.target.value = ''
          if (file) pick(file)
        }}
      />
    </label>
  )
}
