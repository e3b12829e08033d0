import createClient from 'openapi-fetch'
import { heardBuild } from './build'
import { formHeaders, once } from './once'
import type { components, paths } from './schema'

export type Schema<K extends keyof components['schemas']> = components['schemas'][K]

/** What the server says when it refuses: what, where (`field`), what instead (`hint`); `again_s`: after how many seconds
 * it wants to be asked again, null where that would not help. */
export class ProblemError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly field: string,
    readonly hint: string,
    readonly again_s: number | null = null,
  ) {
    super(message)
  }
}

function csrfToken(): string {
  return document.cookie.match(/(?:^|; )keencoat_csrf=([^;]+)/)?.[1] ?? ''
}

async function asProblem(response: Response): Promise<ProblemError> {
  const text = await response.text()
  const again = response.headers.get('Retry-After')
  const again_s = again === null ? null : Number(again) || null
  try {
    const body = JSON.parse(text) as { detail?: string; field?: string; hint?: string }
    return new ProblemError(
      body.detail ?? response.statusText,
      response.status,
      body.field ?? '',
      body.hint ?? '',
      again_s,
    )
  } catch {
    return new ProblemError(
      `The server answered ${response.status}.`,
      response.status,
      '',
      'Try again in a moment.',
      again_s,
    )
  }
}

/** Refused, or still being worked out. */
const isProblem = (response: Response) => !response.ok || response.status === 202

/** The key that a write needs is added to every one, not by who sends it. */
type WithoutKeys<Paths> = {
  [P in keyof Paths]: {
    [M in keyof Paths[P]]: Paths[P][M] extends { parameters: infer Told }
      ? Omit<Paths[P][M], 'parameters'> & { parameters: Omit<Told, 'header'> }
      : Paths[P][M]
  }
}

export const api = createClient<WithoutKeys<paths>>({ baseUrl: '/' })
api.use({
  onRequest({ request }) {
    request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
  async onResponse({ response }) {
    if (isProblem(response)) throw await asProblem(response)
  },
  onError() {
    return new ProblemError(
      'The server does not answer.',
      0,
      '',
      'Is script/server still running? Nothing was lost here.',
    )
  },
})

// After what refuses: middleware hears of answers from the last to the first.
api.use(once)
api.use(heardBuild)

/** The body of an answer; refusals were thrown as ProblemError before. */
export async function body<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}

/** A file by its address; refusals are thrown as ProblemError. */
async function fileAt(address: string, signal?: AbortSignal): Promise<Response> {
  const response = await fetch(address, { signal })
  if (isProblem(response)) throw await asProblem(response)
  return response
}

/** A picture by its address; refusals are thrown as ProblemError. */
export const picture = async (address: string, signal: AbortSignal): Promise<Blob> =>
  (await fileAt(address, signal)).blob()

/** Has the browser keep a file as whoever sends it calls it; refusals are thrown as ProblemError. */
export async function keepFile(address: string): Promise<void> {
  const response = await fileAt(address)
  const name = /filename="([^"]+)"/.exec(response.headers.get('Content-Disposition') ?? '')?.[1] ?? 'file'
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await response.blob())
  link.download = name
  link.click()
  // The browser has begun to read it by then.
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}

type Part = File | string | number | null

/** Files and figures as the form that openapi-fetch sends; parts that are null are left out. The description calls a file
 * a string, which a browser sends as one. */
function asForm(parts: Record<string, Part>) {
  const form = new FormData()
  for (const [name, part] of Object.entries(parts))
    if (part !== null) form.append(name, part instanceof File ? part : String(part))
  return { body: parts as never, bodySerializer: () => form, headers: formHeaders(parts) }
}

export const uploadRatings = (grid_id: number, file: File, rating_event: number) =>
  body(
    api.POST('/api/grids/{grid_id}/ratings', {
      params: { path: { grid_id } },
      ...asForm({ file, rating_event }),
    }),
  )

export const uploadGrid = (job_id: number, file: File, framed: boolean, replaces: number | null) =>
  body(
    api.POST('/api/jobs/{job_id}/grids/brought', {
      params: { path: { job_id } },
      ...asForm({ file, framed: String(framed), replaces }),
    }),
  )

export const uploadGridPhoto = (
  grid_id: number,
  parts: { photo: File; spare: number; light: string; only: string },
) => body(api.POST('/api/grids/{grid_id}/photos', { params: { path: { grid_id } }, ...asForm(parts) }))

export const uploadCoatPhoto = (
  job_id: number,
  parts: { photo: File; bare: File | null; piece: number | null },
) => body(api.POST('/api/jobs/{job_id}/coat/photos', { params: { path: { job_id } }, ...asForm(parts) }))

export const uploadArtPhoto = (artwork_id: number, parts: { photo: File; piece: number }) =>
  body(api.POST('/api/artworks/{artwork_id}/photos', { params: { path: { artwork_id } }, ...asForm(parts) }))

export const uploadPiecePhoto = (piece_id: number, photo: File) =>
  body(
    api.POST('/api/batch-pieces/{piece_id}/photo', { params: { path: { piece_id } }, ...asForm({ photo }) }),
  )

export const uploadArtwork = (
  job_id: number,
  parts: { file: File; kind: components['schemas']['ArtKind']; name: string },
) => body(api.POST('/api/jobs/{job_id}/artworks', { params: { path: { job_id } }, ...asForm(parts) }))

export const uploadHoldUp = (job_id: number, parts: { bare: File; coated: File; coats: number }) =>
  body(api.POST('/api/jobs/{job_id}/coat/holdup-photos', { params: { path: { job_id } }, ...asForm(parts) }))

export const uploadArchive = (file: File) => body(api.POST('/api/workshop.zip', asForm({ file })))
