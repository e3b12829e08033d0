import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, body, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'

type Batch = Schema<'BatchOut'>
type Row = Schema<'BatchRowOut'>
type State = Row['state']

/** What can be done in a batch; what comes back is shown at once. */
export function useBatchDeeds(jobId: number, batch: Batch) {
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
    finish: ({ name, done }: Schema<'FinishOut'>) =>
      deed.mutate(() =>
        body(
          api.PUT('/api/batches/{batch_id}/finish', {
            ...path,
            body: { step: name, done: !done, was: done },
          }),
        ),
      ),
    close: () => deed.mutate(() => body(api.POST('/api/batches/{batch_id}/close', path))),
  }
}

export type BatchDeeds = ReturnType<typeof useBatchDeeds>
