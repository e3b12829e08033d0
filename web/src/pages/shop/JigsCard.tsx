import { useMutation, useQueryClient } from '@tanstack/react-query'
import { Download } from 'lucide-react'
import { useState } from 'react'
import { api, body, type Schema } from '../../api/client'
import { useJigs, useMachines } from '../../api/hooks'
import { fetchAnew, keys } from '../../api/keys'
import { Problem } from '../../ui/feedback'
import { TickField } from '../../ui/form'
import { Button, Card, FileLink } from '../../ui/parts'

type Jig = Schema<'KeptJigOut'>

/** The jigs of the shop by the size of their pieces. */
export function JigsCard() {
  const jigs = useJigs()
  const [all, setAll] = useState(false)
  const list = jigs.data ?? []
  const shown = all ? list : list.filter((jig) => !jig.put_away)
  return (
    <Card title="Jigs, by the size of their pieces">
      {jigs.isError && <Problem error={jigs.error} again={() => void jigs.refetch()} />}
      {shown.length === 0 && (
        <p className="text-soft">None is kept. Lay one out in Placing of a job with flat pieces.</p>
      )}
      <ul className="grid gap-3">
        {shown.map((jig) => (
          <JigRow key={jig.id} jig={jig} />
        ))}
      </ul>
      {list.some((jig) => jig.put_away) && (
        <TickField checked={all} onChange={(e) => setAll(e.target.checked)}>
          Those put away too
        </TickField>
      )}
    </Card>
  )
}

function JigRow({ jig }: { jig: Jig }) {
  const client = useQueryClient()
  const machine = useMachines().data?.find((m) => m.id === jig.machine_id)
  const put = useMutation({
    mutationFn: () =>
      body(
        api.PUT('/api/jigs/{jig_id}', {
          params: { path: { jig_id: jig.id } },
          body: { name: jig.name, put_away: !jig.put_away, version: jig.version },
        }),
      ),
    onSettled: () => fetchAnew.these(client, keys.jigs, keys.everyJob),
  })
  const size = jig.shape === 'disc' ? `Ø ${jig.width_mm} mm` : `${jig.width_mm} × ${jig.height_mm} mm`
  return (
    <li className="border-b border-line pb-3 last:border-0 last:pb-0">
      <p>
        <span className="font-mono font-bold">{size}</span> {jig.name}
      </p>
      <p className="text-sm text-soft">
        {jig.pockets} pockets on {jig.asked.sheet_width_mm} × {jig.asked.sheet_height_mm} mm, play{' '}
        {jig.asked.play_mm} mm{jig.asked.mirrored && ', mirrored'}
        {machine && `; lies on ${machine.name}`}
      </p>
      <div className="mt-2 flex flex-wrap gap-2">
        {(['svg', 'dxf'] as const).map((kind) => (
          <FileLink key={kind} href={`/api/jigs/${jig.id}/jig.${kind}`}>
            <Download aria-hidden className="size-4" /> {kind.toUpperCase()}
          </FileLink>
        ))}
        <Button look="quiet" disabled={put.isPending} onClick={() => put.mutate()}>
          {jig.put_away ? 'Take out again' : 'Put away'}
        </Button>
      </div>
      {put.error && <Problem error={put.error} />}
    </li>
  )
}
