import { useMutation } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import type { ReactNode } from 'react'
import { isAway } from '../api/away'
import { keepFile } from '../api/client'
import { Problem } from './feedback'
import { Button } from './parts'

const MOST = 300

/** Takes a file: does what comes before, asks again while the server makes it, and says how far that is. */
export function TakeFile({
  href,
  before,
  children,
}: {
  href: string
  before?: () => Promise<unknown>
  children: ReactNode
}) {
  const take = useMutation({
    mutationFn: async () => {
      await before?.()
      await keepFile(href)
    },
    retry: (tried, error) => tried < MOST && isAway(error),
  })
  return (
    <>
      <Button disabled={take.isPending} onClick={() => take.mutate()}>
        <Download aria-hidden className="size-4" /> {children}
      </Button>
      {take.isPending && take.failureReason && (
        <span role="status" className="self-center text-soft">
          {take.failureReason.message}
        </span>
      )}
      {take.isError && <Problem error={take.error} />}
    </>
  )
}
