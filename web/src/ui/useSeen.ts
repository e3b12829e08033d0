import { useState } from 'react'

/** The version that a form began with. What is typed is saved on top of that one, and refused if something was changed
 * elsewhere since; `see` the version that one's own save left. */
export function useSeen(version: number) {
  const [seen, see] = useState(version)
  return { seen, see }
}
