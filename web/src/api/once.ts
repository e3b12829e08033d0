import { useRef } from 'react'

// A UUID would need a secure page, which a workshop's server need not be.
const freshKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join(
    '',
  )

/** A key that stays the same until what it was sent with has come through: sent twice, it is done once. */
export function useOnceKey() {
  const key = useRef('')
  key.current ||= freshKey()
  return {
    headers: () => ({ 'Idempotency-Key': key.current }),
    renew: () => {
      key.current = freshKey()
    },
  }
}
