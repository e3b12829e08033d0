import createClient from 'openapi-fetch'
import type { components, paths } from './schema'

export type Schema<K extends keyof components['schemas']> = components['schemas'][K]

/** What the server says when it refuses: what, where (`field`), what instead (`hint`). */
export class ProblemError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly field: string,
    readonly hint: string,
  ) {
    super(message)
  }
}

function csrfToken(): string {
  return document.cookie.match(/(?:^|; )keencoat_csrf=([^;]+)/)?.[1] ?? ''
}

async function asProblem(response: Response): Promise<ProblemError> {
  const text = await response.text()
  try {
    const body = JSON.parse(text) as { detail?: string; field?: string; hint?: string }
    return new ProblemError(
      body.detail ?? response.statusText,
      response.status,
      body.field ?? '',
      body.hint ?? '',
    )
  } catch {
    return new ProblemError(
      `The server answered ${response.status}.`,
      response.status,
      '',
      'Try again in a moment.',
    )
  }
}

export const api = createClient<paths>({ baseUrl: '/' })
api.use({
  onRequest({ request }) {
    request.headers.set('X-CSRFToken', csrfToken())
    return request
  },
  async onResponse({ response }) {
    if (!response.ok) throw await asProblem(response)
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

/** The body of an answer; refusals were thrown as ProblemError before. */
export async function body<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}

/** Sends files; refusals are thrown as ProblemError. */
async function upload<T>(path: string, parts: Record<string, File | string | number | null>): Promise<T> {
  const form = new FormData()
  for (const [name, part] of Object.entries(parts))
    if (part !== null) form.append(name, part instanceof File ? part : String(part))
  const headers = { 'X-CSRFToken': csrfToken() }
  const response = await fetch(path, { method: 'POST', body: form, headers }).catch(() => {
    throw new ProblemError(
      'The upload did not arrive.',
      0,
      '',
      'Is the server running? The file is still here.',
    )
  })
  if (!response.ok) throw await asProblem(response)
  return (await response.json()) as T
}

export const uploadRatings = (gridId: number, file: File, rating_event: number) =>
  upload<Schema<'RatingsOut'>>(`/api/grids/${gridId}/ratings`, { file, rating_event })

export const uploadGrid = (jobId: number, file: File, framed: boolean, replaces: number | null) =>
  upload<Schema<'GridOut'>>(`/api/jobs/${jobId}/grids/brought`, { file, framed: String(framed), replaces })

export const uploadGridPhoto = (
  gridId: number,
  parts: { photo: File; spare: number; light: string; only: string },
) => upload<Schema<'GridReadingOut'>>(`/api/grids/${gridId}/photos`, parts)

export const uploadCoatPhoto = (
  jobId: number,
  parts: { photo: File; bare: File | null; piece: number | null },
) => upload<Schema<'CoatPhotoOut'>>(`/api/jobs/${jobId}/coat/photos`, parts)

export const uploadHoldUp = (jobId: number, parts: { bare: File; coated: File; coats: number }) =>
  upload<Schema<'ProofOut'>>(`/api/jobs/${jobId}/coat/holdup-photos`, parts)
