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

export async function uploadRatings(gridId: number, file: File): Promise<Schema<'GridOut'>> {
  const form = new FormData()
  form.append('file', file)
  const response = await fetch(`/api/grids/${gridId}/ratings`, {
    method: 'POST',
    body: form,
    headers: { 'X-CSRFToken': csrfToken() },
  })
  if (!response.ok) throw await asProblem(response)
  return (await response.json()) as Schema<'GridOut'>
}
