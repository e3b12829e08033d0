import { useIsOld } from '../api/build'
import { Button } from './parts'

/** Says that the server has a newer Keen Coat than this page. */
export function BuildNotice() {
  if (!useIsOld()) return null
  return (
    <div
      role="status"
      className="no-print mb-4 flex flex-wrap items-center justify-between gap-3 rounded-xl bg-frost-tint p-3"
    >
      <span>
        <b>There is a newer Keen Coat.</b> Save what you typed, then load this page anew.
      </span>
      <Button onClick={() => location.reload()}>Load anew</Button>
    </div>
  )
}
