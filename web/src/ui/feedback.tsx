import { CircleAlert, Info, OctagonX, TriangleAlert } from 'lucide-react'
import type { ReactNode } from 'react'
import { ProblemError, type Schema } from '../api/client'

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-soft">
      Fetching the {what} …
    </p>
  )
}

/** A refusal or failure: what is wrong and what to do instead. */
export function Problem({ error, again }: { error: unknown; again?: () => void }) {
  const problem = error instanceof ProblemError ? error : null
  return (
    <div role="alert" className="flex items-start gap-3 rounded-xl bg-ember-tint p-3">
      <CircleAlert aria-hidden className="mt-0.5 size-5 shrink-0 text-ember" />
      <div>
        <p className="font-bold">{problem?.message ?? 'Something went wrong on this page.'}</p>
        <p className="text-soft">{problem?.hint || 'Try again; nothing you entered was lost.'}</p>
        {again && (
          <button className="min-h-11 underline underline-offset-4" onClick={again}>
            Try again
          </button>
        )}
      </div>
    </div>
  )
}

const SEVERITY = {
  stop: { Icon: OctagonX, tone: 'bg-ember-tint', ink: 'text-ember' },
  warn: { Icon: TriangleAlert, tone: 'bg-frost-tint', ink: 'text-frost' },
  note: { Icon: Info, tone: '', ink: 'text-soft' },
} as const

export function Findings({ list }: { list: Schema<'FindingOut'>[] }) {
  return list.map((finding) => {
    const { Icon, tone, ink } = SEVERITY[finding.severity]
    return (
      <div key={finding.code} role="status" className={`flex items-start gap-3 rounded-xl p-3 ${tone}`}>
        <Icon aria-hidden className={`mt-0.5 size-5 shrink-0 ${ink}`} />
        <div>
          <p className="font-bold">{finding.message}</p>
          <p className="text-soft">{finding.fix}</p>
        </div>
      </div>
    )
  })
}

export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="rounded-2xl border border-dashed border-line p-8 text-center">
      <p className="text-lg font-bold">{title}</p>
      <div className="mt-2 text-soft">{children}</div>
    </div>
  )
}
