import { skipToken, useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { api, body, picture, type Schema } from './client'
import { whileAway } from './away'
import { fetchAnew, keys } from './keys'
import type { paths } from './schema'

type JigWish = paths['/api/jobs/{job_id}/jig']['get']['parameters']['query']

const path = (job_id: number) => ({ params: { path: { job_id } } })

export const useSession = () =>
  useQuery({ queryKey: keys.session, queryFn: () => body(api.GET('/api/session')), staleTime: Infinity })

export const useCatalogue = () =>
  useQuery({ queryKey: keys.catalogue, queryFn: () => body(api.GET('/api/catalogue')), staleTime: Infinity })

export const useMachines = () =>
  useQuery({ queryKey: keys.machines, queryFn: () => body(api.GET('/api/machines')) })

export const useRoomTaken = () =>
  useQuery({ queryKey: keys.roomTaken, queryFn: () => body(api.GET('/api/workshop/room-taken')) })

/** The bench with the `most` jobs that press; while more are fetched, those at hand stay. */
export const useBench = (most: number) =>
  useQuery({
    queryKey: keys.bench(most),
    queryFn: () => body(api.GET('/api/bench', { params: { query: { most } } })),
    refetchInterval: 20_000,
    placeholderData: (kept) => kept,
  })

const JOBS_AT_A_TIME = 100

export const useJobs = (put_away = false) =>
  useInfiniteQuery({
    queryKey: keys.jobs(put_away),
    queryFn: ({ pageParam }) =>
      body(api.GET('/api/jobs', { params: { query: { put_away, skip: pageParam } } })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) =>
      last.length === JOBS_AT_A_TIME ? pages.length * JOBS_AT_A_TIME : undefined,
    select: ({ pages }) => pages.flat(),
  })

export const useJob = (id: number) =>
  useQuery({
    queryKey: keys.job(id),
    queryFn: () => body(api.GET('/api/jobs/{job_id}', path(id))),
    refetchInterval: 30_000,
  })

export const useCoatPlan = (id: number, jar_ml?: number, left_ml?: number) =>
  useQuery({
    queryKey: keys.job(id, 'coat', jar_ml, left_ml),
    queryFn: () =>
      body(
        api.GET('/api/jobs/{job_id}/coat', {
          params: { path: { job_id: id }, query: { jar_ml, left_ml } },
        }),
      ),
    refetchInterval: 60_000,
    placeholderData: (last) => last,
  })

export const useOffers = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'offers'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/coat/offers', path(id))),
  })

export const useProof = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'proof'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/coat/proof', path(id))),
  })

export const useExperiments = () =>
  useQuery({ queryKey: keys.experiments, queryFn: () => body(api.GET('/api/experiments')) })

export const useShelf = () => useQuery({ queryKey: keys.shelf, queryFn: () => body(api.GET('/api/shelf')) })

export const useRoom = () =>
  useQuery({
    queryKey: keys.room,
    queryFn: () => body(api.GET('/api/room')),
    refetchInterval: 120_000,
  })

export const useGrids = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'grids'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/grids', path(id))),
  })

export const useGridReading = (jobId: number, gridId: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'reading', gridId),
    queryFn: () => body(api.GET('/api/grids/{grid_id}/reading', { params: { path: { grid_id: gridId } } })),
  })

/** A burn, looked at often while it lasts. */
export const useBurn = (burn: Schema<'BurnOut'>) =>
  useQuery({
    queryKey: keys.burn(burn.id),
    queryFn: () => body(api.GET('/api/burns/{burn_id}', { params: { path: { burn_id: burn.id } } })),
    initialData: burn,
    refetchInterval: ({ state }) => (state.data && isOver(state.data) ? false : 400),
  })

/** A burn of artwork, likewise. */
export const useArtBurn = (burn: Schema<'LaserOut'>) =>
  useQuery({
    queryKey: keys.artBurn(burn.id),
    queryFn: () =>
      body(api.GET('/api/art-burns/{art_burn_id}', { params: { path: { art_burn_id: burn.id } } })),
    initialData: burn,
    refetchInterval: ({ state }) => (state.data && isOver(state.data) ? false : 400),
  })

/** A file of all pieces, looked at often while it is made. */
export const useArtPack = (pack: Schema<'ArtPackOut'>) =>
  useQuery({
    queryKey: keys.artPack(pack.id),
    queryFn: () =>
      body(api.GET('/api/art-packs/{art_pack_id}', { params: { path: { art_pack_id: pack.id } } })),
    initialData: pack,
    refetchInterval: ({ state }) => (state.data && isOver(state.data) ? false : 500),
  })

/** What came of an artwork: its last burn, photos, versions that were taken. */
export const useArtPieces = (jobId: number, artworkId: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'art-pieces', artworkId),
    queryFn: () =>
      body(api.GET('/api/artworks/{artwork_id}/pieces', { params: { path: { artwork_id: artworkId } } })),
    refetchInterval: ({ state }) => (state.data?.photos.some((photo) => photo.waiting) ? 1500 : false),
  })

export const isOver = (burn: { state: Schema<'BurnState'> }) =>
  ['done', 'stopped', 'failed'].includes(burn.state)

export const usePractice = () =>
  useQuery({ queryKey: keys.practice, queryFn: () => body(api.GET('/api/practice')) })

export const useDraft = (id: number, wish: Schema<'GridWishIn'>, enabled: boolean) =>
  useQuery({
    queryKey: keys.job(id, 'draft', wish),
    queryFn: () => body(api.POST('/api/jobs/{job_id}/grids/draft', { ...path(id), body: wish })),
    enabled,
    retry: whileAway,
    placeholderData: (last) => last,
  })

/** A slice through the window; lines left out are the job's own. */
export interface Slice {
  interval_mm?: number
  passes: number
  film_share: number
  art?: Schema<'Art'>
}

export const useWindow = (id: number, slice: Slice) =>
  useQuery({
    queryKey: keys.job(id, 'window', slice),
    queryFn: () =>
      body(api.GET('/api/jobs/{job_id}/window', { params: { path: { job_id: id }, query: slice } })),
    placeholderData: (last) => last,
    retry: whileAway,
  })

export const useRuns = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'runs'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/runs', path(id))),
  })

/** The batches of a job, the newest first. */
export const useBatches = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'batches'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/batches', path(id))),
  })

const BATCH_LOOKED_AT_MS = 3000

/** A batch, looked at often: another phone may move its pieces too. */
export const useBatch = (jobId: number, batch_id: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'batches', batch_id),
    queryFn: () => body(api.GET('/api/batches/{batch_id}', { params: { path: { batch_id } } })),
    refetchInterval: ({ state }) => (state.data?.closed_at ? false : BATCH_LOOKED_AT_MS),
  })

type BatchWish = paths['/api/jobs/{job_id}/batch-plan']['get']['parameters']['query']

/** What a batch would be made of, and the gate before it. */
export const useBatchPlan = (job_id: number, query: BatchWish) =>
  useQuery({
    queryKey: keys.job(job_id, 'batch-plan', query),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/batch-plan', { params: { path: { job_id }, query } })),
    placeholderData: (last) => last,
    retry: whileAway,
  })

/** All that is known of a piece of a batch, as it is at `version`. */
export const useBatchPiece = (jobId: number, piece_id: number, version: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'batch-piece', piece_id, version),
    queryFn: () => body(api.GET('/api/batch-pieces/{piece_id}', { params: { path: { piece_id } } })),
    refetchInterval: ({ state }) => (state.data?.photo?.waiting ? 1500 : false),
  })

/** Why a piece of a batch failed, as it is at `version`. */
export const useWhy = (jobId: number, piece_id: number, version: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'why', piece_id, version),
    queryFn: () => body(api.GET('/api/batch-pieces/{piece_id}/why', { params: { path: { piece_id } } })),
    placeholderData: (last) => last,
  })

/** Jobs that cannot be shown. */
export const useUnreadableJobs = () =>
  useQuery({ queryKey: keys.unreadableJobs, queryFn: () => body(api.GET('/api/unreadable-jobs')) })

/** Batches whose clean pieces should be looked at again. */
export const useDueAgain = () =>
  useQuery({ queryKey: keys.dueAgain, queryFn: () => body(api.GET('/api/later-looks/due')) })

/** What held, by coat and setting. */
export const useLasted = () =>
  useQuery({ queryKey: keys.lasted, queryFn: () => body(api.GET('/api/later-looks')) })

/** The shop's eyewear. */
export const useEyewear = () =>
  useQuery({ queryKey: keys.eyewear, queryFn: () => body(api.GET('/api/eyewear')) })

export const useCarry = (id: number, wish: Schema<'CarryIn'> | null) =>
  useQuery({
    queryKey: keys.job(id, 'carry', wish),
    queryFn: () =>
      body(api.POST('/api/jobs/{job_id}/window/carry', { ...path(id), body: wish as Schema<'CarryIn'> })),
    enabled: wish !== null,
    retry: whileAway,
  })

export const useSpotTests = (machineId: number) =>
  useQuery({
    queryKey: keys.spotTests(machineId),
    queryFn: () =>
      body(api.GET('/api/machines/{machine_id}/spot-tests', { params: { path: { machine_id: machineId } } })),
  })

export const useTurningDevices = (machineId: number) =>
  useQuery({
    queryKey: keys.turning(machineId),
    queryFn: () =>
      body(
        api.GET('/api/machines/{machine_id}/turning-devices', {
          params: { path: { machine_id: machineId } },
        }),
      ),
  })

/** A jig as it would be laid out; while another is fetched, the last one stays. */
export const useJig = (job_id: number, query: JigWish) =>
  useQuery({
    queryKey: keys.job(job_id, 'jig', query),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/jig', { params: { path: { job_id }, query } })),
    placeholderData: (last) => last,
  })

/** The jigs of the shop. */
export const useJigs = () => useQuery({ queryKey: keys.jigs, queryFn: () => body(api.GET('/api/jigs')) })

/** The jigs of the shop that take a job's pieces. */
export const useFittingJigs = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'jigs'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/jigs', path(id))),
  })

/** A job's batch in a jig of the shop. */
export const useJigLoads = (job_id: number, jig_id: number) =>
  useQuery({
    queryKey: keys.job(job_id, 'jigs', jig_id),
    queryFn: () =>
      body(api.GET('/api/jobs/{job_id}/jigs/{jig_id}', { params: { path: { job_id, jig_id } } })),
    retry: whileAway,
    placeholderData: (last) => last,
  })

/** How to turn a device until its axis lies along the head's travel. */
export const useSquaring = (told: { near_mm: number; far_mm: number; travel_mm: number; feet_mm: number }) =>
  useQuery({
    queryKey: keys.squaring(told),
    queryFn: () => body(api.GET('/api/squaring', { params: { query: told } })),
  })

export const useTurningSteps = (told: { steps_per_turn: number; steps_per_mm: number } | null) =>
  useQuery({
    queryKey: keys.turningSteps(told),
    queryFn: told ? () => body(api.GET('/api/turning-steps', { params: { query: told } })) : skipToken,
  })

export const usePlacing = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'placing'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/placing', path(id))),
  })

export const usePoint = (id: number, art: Schema<'Art'>, setting: Schema<'SettingIn'> | null) =>
  useQuery({
    queryKey: keys.job(id, 'point', art, setting),
    queryFn: () =>
      body(
        api.POST('/api/jobs/{job_id}/window/point', {
          params: { path: { job_id: id }, query: { art } },
          body: setting as Schema<'SettingIn'>,
        }),
      ),
    enabled: setting !== null,
    retry: whileAway,
    placeholderData: (last) => last,
  })

export const useRunSheet = (id: number, locked: boolean) =>
  useQuery({
    queryKey: keys.job(id, 'sheet'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/run-sheet', path(id))),
    enabled: locked,
  })

export const useArtworks = (id: number) =>
  useQuery({
    queryKey: keys.job(id, 'artworks'),
    queryFn: () => body(api.GET('/api/jobs/{job_id}/artworks', path(id))),
  })

/** A picture whose address names all that it shows. */
export const usePicture = (address: string, enabled = true) =>
  useQuery({
    enabled,
    queryKey: keys.picture(address),
    queryFn: ({ signal }) => picture(address, signal),
    placeholderData: (last) => last,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: whileAway,
  })

/** The figures of one piece of an artwork, as it is at `version` on the base of that `stamp`. */
export const useArtFigures = (jobId: number, artwork: Schema<'ArtworkOut'>, stamp: string, piece: number) =>
  useQuery({
    queryKey: keys.job(jobId, 'art-figures', artwork.id, artwork.version, stamp, piece),
    queryFn: () =>
      body(
        api.GET('/api/artworks/{artwork_id}/figures', {
          params: { path: { artwork_id: artwork.id }, query: { piece } },
        }),
      ),
    placeholderData: (last) => last,
    retry: whileAway,
  })

export const useArtNames = (jobId: number, artwork: Schema<'ArtworkOut'>, stamp: string) =>
  useQuery({
    queryKey: keys.job(jobId, 'art-names', artwork.id, artwork.version, stamp),
    queryFn: () =>
      body(api.GET('/api/artworks/{artwork_id}/names', { params: { path: { artwork_id: artwork.id } } })),
    enabled: artwork.kind === 'names',
    placeholderData: (last) => last,
    retry: whileAway,
  })

export const useToneCurve = (jobId: number, screen: Schema<'Screen'>, stamp: string, enabled: boolean) =>
  useQuery({
    queryKey: keys.job(jobId, 'tone-curve', screen, stamp),
    queryFn: () =>
      body(
        api.GET('/api/jobs/{job_id}/tone-curve', {
          params: { path: { job_id: jobId }, query: { screen } },
        }),
      ),
    enabled,
    placeholderData: (last) => last,
    retry: whileAway,
  })

export const useChoice = (choice: Schema<'ChoiceIn'> | null) =>
  useQuery({
    queryKey: keys.choice(choice),
    queryFn: () => body(api.POST('/api/choices', { body: choice as Schema<'ChoiceIn'> })),
    enabled: choice !== null,
    placeholderData: (last) => last,
  })

/** A write to a job; everything shown of it is fetched anew afterwards. */
export function useJobWrite<In, Out>(id: number, write: (input: In) => Promise<Out>) {
  const client = useQueryClient()
  return useMutation({ mutationFn: write, onSettled: () => fetchAnew.job(client, id) })
}
