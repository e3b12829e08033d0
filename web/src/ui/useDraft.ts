import { useMutation } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { ProblemError } from '../api/client'
import { isSame, merged, takenOver } from './draft'
import { useSettled } from './useSettled'

type Kept<T> = { value: T; version: number }

/** `base`: what the server said, at `version`; `mine`: that with what was changed here; `sent`: what is on its way;
 * `theirs`: what it became elsewhere, with the fields that were changed on both sides. */
type State<T> = {
  base: T
  version: number
  mine: T
  sent: T | null
  theirs: { value: T; clashes: string[][] } | null
  refused: { value: T; version: number } | null
}

/** The state once the server says otherwise. What was written here is no change from elsewhere. */
function rebased<T>(state: State<T>, kept: Kept<T>): State<T> {
  const { value, clashes } = merged(state.sent ?? state.base, kept.value, state.mine)
  return {
    base: kept.value,
    version: kept.version,
    mine: value,
    sent: null,
    theirs: clashes.length ? { value: kept.value, clashes } : null,
    refused: state.refused,
  }
}

/** Something that saves by itself once it is at rest. What others change meanwhile is taken over, field by field; where
 * both changed the same field it waits and asks. `write` saves on top of a version, `refetch` asks the server anew. */
export function useDraft<T>(
  kept: Kept<T>,
  {
    after_ms,
    write,
    refetch,
  }: {
    after_ms: number
    write: (wanted: T, version: number) => Promise<Kept<T>>
    refetch: () => unknown
  },
) {
  const [state, set] = useState<State<T>>({
    base: kept.value,
    version: kept.version,
    mine: kept.value,
    sent: null,
    theirs: null,
    refused: null,
  })
  // While it is on its way nothing else is looked at: its own answer comes first.
  if (kept.version > state.version && state.sent === null) set(rebased(state, kept))

  const save = useMutation({
    mutationFn: ({ value, version }: Kept<T>) => write(value, version),
    onMutate: ({ value }) => set((now) => ({ ...now, sent: value })),
    onSuccess: (answer) => set((now) => rebased(now, answer)),
    onError: (error, { value, version }) => {
      const isStale = error instanceof ProblemError && error.status === 409
      set((now) => ({ ...now, sent: null, refused: { value, version } }))
      if (isStale) void refetch()
    },
  })
  const settled = useSettled(state.mine, after_ms)
  const { mutate, isPending } = save
  useEffect(() => {
    const { mine, base, version, sent, theirs, refused } = state
    if (isPending || sent !== null || theirs !== null || !isSame(settled, mine) || isSame(mine, base)) return
    // What was refused is not asked again unchanged.
    if (refused && refused.version === version && isSame(refused.value, mine)) return
    mutate({ value: mine, version })
  }, [settled, state, mutate, isPending])

  const { theirs } = state
  return {
    value: state.mine,
    change: (how: (old: T) => T) => set((now) => ({ ...now, mine: how(now.mine) })),
    isPending,
    error: theirs === null ? save.error : null,
    question: theirs && {
      ...theirs,
      mine: state.mine,
      keepMine: () => set((now) => ({ ...now, theirs: null })),
      takeTheirs: () =>
        set((now) => ({ ...now, mine: takenOver(now.mine, theirs.value, theirs.clashes), theirs: null })),
    },
  }
}

export type Question = NonNullable<ReturnType<typeof useDraft>['question']>
