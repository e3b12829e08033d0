import { FlaskConical } from 'lucide-react'
import { Link } from 'react-router'
import type { Schema } from '../../api/client'

/** Stands over every chapter of a practice job: what is seen here never happened. */
export function PracticeStrip({ practice }: { practice: Schema<'PracticeShort'> }) {
  return (
    <p
      role="note"
      className="no-print mb-3 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-xl border border-dashed border-frost bg-frost-tint px-3 py-2"
    >
      <span className="flex items-center gap-2 font-bold text-frost">
        <FlaskConical aria-hidden className="size-4" /> Simulation
      </span>
      <span>
        {practice.hidden ? 'A hidden material' : practice.scenario}; {practice.pieces} piece
        {practice.pieces === 1 ? '' : 's'} and {practice.cells} cells spent
        {practice.of > 0 && `; ${practice.clean} of ${practice.of} came out clean`}. Nothing of it counts as
        real.
      </span>
      <Link to="/practice" className="underline underline-offset-4">
        All practices
      </Link>
    </p>
  )
}
