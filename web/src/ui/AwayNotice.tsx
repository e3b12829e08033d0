import { useIsFetching, useMutationState, useQueryClient } from '@tanstack/react-query'
import { isAway } from '../api/away'

/** Says what the server waits for while something is put off and asked again: the database, or its turn. */
export function AwayNotice() {
  const cache = useQueryClient().getQueryCache()
  const reading = useIsFetching({ predicate: (query) => isAway(query.state.fetchFailureReason) }) > 0
  const writing = useMutationState({
    filters: { status: 'pending' },
    select: (mutation) => mutation.state.failureReason,
  }).find(isAway)
  const reason = reading
    ? cache.getAll().find((query) => isAway(query.state.fetchFailureReason))?.state.fetchFailureReason
    : writing
  if (!reason) return null
  return (
    <p
      role="status"
      className="fixed inset-x-3 bottom-20 z-20 mx-auto max-w-md rounded-xl bg-ember-tint p-3 text-center shadow-lg md:bottom-4"
    >
      <b>{reason.message}</b> What you typed is kept; it is asked again by itself.
    </p>
  )
}
