import { Pause, Play, Square } from 'lucide-react'
import type { Schema } from '../../api/client'
import { isOver } from '../../api/hooks'
import { Problem } from '../../ui/feedback'
import { Button, Card, Figures, Progress } from '../../ui/parts'
import { showMinutes } from '../../ui/units'

/** How far the simulated laser is, with its words: stop, hold, go on. */
export function LaserProgress({
  burn,
  seconds,
  tell,
  error,
}: {
  burn: Schema<'LaserOut'>
  seconds: number
  tell: (word: string) => void
  error: unknown
}) {
  const over = isOver(burn)
  const share = burn.lines ? burn.lines_done / burn.lines : 0
  const held = burn.state === 'held'
  return (
    <Card accent title="Simulated laser">
      <p className="text-3xl leading-tight font-bold" aria-live="polite">
        {burn.state === 'queued' ? 'Waiting for a worker' : held ? 'Held' : over ? 'Done' : 'Burning'}
        {!over && burn.now_at && `, ${burn.now_at}`}
      </p>
      <Progress share={share} />
      <Figures
        rows={[
          ['Lines', `${burn.lines_done} of ${burn.lines}`],
          ["Machine's clock", `${showMinutes(burn.clock_s / 60)} of ${showMinutes(seconds / 60)}`],
          ['Runs', `${burn.pace.toFixed(0)} times real`],
        ]}
      />
      <Button
        className="mt-3 min-h-14 w-full border-2 border-ember text-lg text-ember"
        disabled={over}
        onClick={() => tell('stop')}
      >
        <Square aria-hidden className="size-5 fill-current" /> Stop
      </Button>
      <Button className="mt-2 w-full" disabled={over} onClick={() => tell(held ? 'resume' : 'pause')}>
        {held ? <Play aria-hidden className="size-4" /> : <Pause aria-hidden className="size-4" />}
        {held ? 'Go on' : 'Hold'}
      </Button>
      {error ? <Problem error={error} /> : null}
    </Card>
  )
}
