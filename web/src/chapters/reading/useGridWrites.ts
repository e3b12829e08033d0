import { useMutation, useQueryClient } from '@tanstack/react-query'
import { api, body, uploadGridPhoto, uploadRatings, type Schema } from '../../api/client'
import { fetchAnew, keys } from '../../api/keys'
import type { Rating } from '../../drawing/RatingMark'

type Grid = Schema<'GridOut'>
type Ratings = Schema<'RatingsOut'>
type Reading = Schema<'GridReadingOut'>
export type PhotoParts = Parameters<typeof uploadGridPhoto>[1]

/** Writes of one grid, one after the other; each answer is what was seen at its cells, shown at once. */
export function useGridWrites(jobId: number, grid: Grid) {
  const client = useQueryClient()
  const scope = { id: `grid-${grid.id}` }
  const onSuccess = (changed: Ratings) => {
    client.setQueryData<Grid[]>(keys.job(jobId, 'grids'), (all) =>
      all?.map((g) => (g.id === changed.id ? withRatings(g, changed) : g)),
    )
    void fetchAnew.rated(client, jobId)
  }
  const onError = () => fetchAnew.these(client, keys.job(jobId, 'grids'))
  const path = { path: { grid_id: grid.id ?? 0 } }
  const latest = () =>
    client.getQueryData<Grid[]>(keys.job(jobId, 'grids'))?.find((g) => g.id === grid.id) ?? grid
  return {
    rate: useMutation({
      scope,
      mutationFn: ({
        code,
        ...seen
      }: {
        code: string
        rating: Rating | null
        defects: string[]
        heard_snapping: boolean
        strokes: Rating | null
      }) =>
        body(
          api.PUT('/api/grids/{grid_id}/cells/{code}', {
            params: { path: { ...path.path, code } },
            body: { ...seen, version: latest().cells.find((c) => c.code === code)?.version ?? 0 },
          }),
        ),
      onSuccess,
      onError,
    }),
    undo: useMutation({
      scope,
      mutationFn: () =>
        body(
          api.POST('/api/grids/{grid_id}/undo', {
            params: path,
            body: { rating_event: latest().rating_event },
          }),
        ),
      onSuccess,
      onError,
    }),
    takeOver: useMutation({
      scope,
      mutationFn: () => body(api.POST('/api/grids/{grid_id}/proposals', { params: path })),
      onSuccess,
      onError,
    }),
    upload: useMutation({
      scope,
      mutationFn: (file: File) => uploadRatings(grid.id ?? 0, file, latest().rating_event),
      onSuccess,
      onError,
    }),
  }
}

/** Writes of a grid's photos; each answer is the whole reading. */
export function usePhotoWrites(jobId: number, gridId: number) {
  const client = useQueryClient()
  const onSuccess = (reading: Reading) =>
    client.setQueryData<Reading>(keys.job(jobId, 'reading', gridId), reading)
  const path = { path: { grid_id: gridId } }
  return {
    add: useMutation({ mutationFn: (parts: PhotoParts) => uploadGridPhoto(gridId, parts), onSuccess }),
    practise: useMutation({
      mutationFn: (shot: Schema<'PracticeShotIn'>) =>
        body(api.POST('/api/grids/{grid_id}/practice/photo', { params: path, body: shot })),
      onSuccess,
    }),
    mark: useMutation({
      mutationFn: ({ id, ...corners }: Schema<'CornersIn'> & { id: number }) =>
        body(
          api.PUT('/api/grid-photos/{photo_id}/corners', {
            params: { path: { photo_id: id } },
            body: corners,
          }),
        ),
      onSuccess,
    }),
    drop: useMutation({
      mutationFn: (id: number) =>
        body(api.DELETE('/api/grid-photos/{photo_id}', { params: { path: { photo_id: id } } })),
      onSuccess,
    }),
    forget: useMutation({
      mutationFn: () => body(api.DELETE('/api/grids/{grid_id}/proposals', { params: path })),
      onSuccess,
    }),
  }
}

/** A grid with what was seen at its cells; all else of it stays as it was burned. */
export function withRatings(grid: Grid, { state, rating_event, cells }: Ratings): Grid {
  const seen = new Map(cells.map((cell) => [cell.code, cell]))
  return {
    ...grid,
    state,
    rating_event,
    cells: grid.cells.map((cell) => ({ ...cell, ...seen.get(cell.code) })),
  }
}
