import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import { wordsOf } from './taskWords'

type Batch = Schema<'BatchOut'>
type Row = Schema<'BatchRowOut'>
type State = Row['state']

/** What can be done in a batch; what comes back is shown at once. `pick` brings another task's piece to the front. */
export function useBatchDeeds(jobId: number, batch: Batch, pick: (row: Row) => void) {
  const client = useQueryClient()
  const deed = useMutation({
    // One after the other: a second press waits for what the first one left.
    scope: { id: `batch ${batch.id}` },
    mutationFn: (act: () => Promise<Batch>) => act(),
    onSuccess: (shown) => {
      client.setQueryData(keys.job(jobId, 'batches', batch.id), shown)
      if (shown.closed_at) void fetchAnew.job(client, jobId)
    },
    onError: () => void fetchAnew.these(client, keys.job(jobId, 'batches')),
  })
  const path = { params: { path: { batch_id: batch.id } } }
  const ofPiece = (row: Row) => ({ params: { path: { piece_id: row.id } } })

  function move(rows: Row[], seen: State, to: State) {
    const ids = rows.map((row) => row.id)
    deed.mutate(() => body(api.POST('/api/batches/{batch_id}/moves', { ...path, body: { ids, seen, to } })))
  }

  return {
    pending: deed.isPending,
    error: deed.error,
    move,
    /** Begins something that may be done meanwhile: a look is opened, a step is taken. */
    begin: (task: Schema<'BatchTaskOut'>, rows: Row[]) => {
      const [row] = rows
      if (task.kind === 'look' && row) pick(row)
      else if (task.kind !== 'look' && task.kind !== 'close') {
        const words = wordsOf(task.kind)
        move(rows, words.seen, words.to)
      }
    },
    look: (row: Row, look: Omit<Schema<'PieceLookIn'>, 'version'>) =>
      deed.mutate(() =>
        body(
          api.PUT('/api/batch-pieces/{piece_id}/look', {
            ...ofPiece(row),
            body: { ...look, version: row.version },
          }),
        ),
      ),
    redo: (row: Row) => deed.mutate(() => body(api.POST('/api/batch-pieces/{piece_id}/redo', ofPiece(row)))),
    gate: (ticks: Schema<'GateTickIn'>[]) =>
      deed.mutate(() => body(api.POST('/api/batches/{batch_id}/gate', { ...path, body: { ticks } }))),
    finish: (done: string[]) =>
      deed.mutate(() => body(api.PUT('/api/batches/{batch_id}/finish', { ...path, body: { done } }))),
    close: () => deed.mutate(() => body(api.POST('/api/batches/{batch_id}/close', path))),
  }
}

export type BatchDeeds = ReturnType<typeof useBatchDeeds>
