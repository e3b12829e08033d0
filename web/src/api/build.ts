import type { Middleware } from 'openapi-fetch'
import { useSyncExternalStore } from 'react'

const HEADER = 'Keencoat-Build'

let first: string | null = null
let isOld = false
const listeners = new Set<() => void>()

/** Hears which interface the server has: another one than this page came with is newer. */
export const heardBuild: Middleware = {
  onResponse({ response }) {
    const build = response.headers.get(HEADER)
    if (build === null) return
    first ??= build
    if (build !== first && !isOld) {
      isOld = true
      listeners.forEach((tell) => tell())
    }
  },
}

const listen = (tell: () => void) => {
  listeners.add(tell)
  return () => listeners.delete(tell)
}

/** Whether the server has a newer interface than this page. */
export const useIsOld = () => useSyncExternalStore(listen, () => isOld)
