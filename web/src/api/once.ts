import type { Middleware } from 'openapi-fetch'

const KEY = 'Idempotency-Key'
/** How long an answer that never came may be asked for again, ms. */
const PATIENCE = 600_000

/** What was sent and has not come through yet: its key, and since when. */
const sent = new Map<string, { key: string; at: number }>()
const told = new Map<string, string>()

// A UUID would need a secure page, which a workshop's server need not be.
const freshKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join(
    '',
  )

/** A form's part of what tells one request from others: a file by its name, size and time. */
export const formHeaders = (parts: Record<string, File | string | number | null>) => ({
  [KEY]: encodeURIComponent(
    JSON.stringify(parts, (_, part: unknown) =>
      part instanceof File ? [part.name, part.size, part.lastModified] : part,
    ),
  ),
})

/** Each write carries a key that stays the same until its answer has come: sent twice, by two clicks or because the line
 * broke, it is done once. */
export const once: Middleware = {
  async onRequest({ request, id }) {
    if (request.method === 'GET') return
    const what = `${request.method} ${request.url} ${request.headers.get(KEY) ?? (await request.clone().text())}`
    const before = sent.get(what)
    const { key } = before && Date.now() - before.at < PATIENCE ? before : { key: freshKey() }
    sent.set(what, { key, at: Date.now() })
    told.set(id, what)
    request.headers.set(KEY, key)
    return request
  },
  onResponse({ response, id }) {
    // The database was away: it will be asked again.
    if (response.status !== 503) sent.delete(told.get(id) ?? '')
    told.delete(id)
  },
  onError({ id }) {
    told.delete(id)
  },
}
