import { useIsFetching, useMutationState } from '@tanstack/react-query'
import { isAway } from '../api/away'

/** Says that the database is away while something waits for it and is asked again. */
export function AwayNotice() {
  const reading = useIsFetching({ predicate: (query) => isAway(query.state.fetchFailureReason) }) > 0
  const writing = useMutationState({
    filters: { status: 'pending' },
    select: (mutation) => mutation.state.failureReason,
  }).some(isAway)
  if (!reading && !writing) return null
  return (
    <p
      role="status"
      className="fixed inset-x-3 bottom-20 z-20 mx-auto max-w-md rounded-xl bg-ember-tint p-3 text-center shadow-lg md:bottom-4"
    >
      <b>The database is away for a moment.</b> What you typed is kept; it is asked again by itself.
    </p>
  )
}
