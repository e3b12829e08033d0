import type { Schema } from '../../api/client'
import { Button, Card } from '../../ui/parts'

/** A lock that an older model read: what it gave then, what today's gives, and the way to lock it anew. */
export function OlderLockCard({
  older,
  today,
  read,
}: {
  older: Schema<'OlderLockOut'>
  today: string
  read: (setting: Schema<'SettingOut'>) => void
}) {
  return (
    <Card title="Locked on an older fit">
      <p>
        Version {older.version} rests on the fit of model {older.model_version}: {shareOf(older.clean_then)}.
        A new fit, by {today}, gives {shareOf(older.clean_now)} there.
      </p>
      <Button className="mt-3 w-full" onClick={() => read(older.setting)}>
        Take the new fit
      </Button>
      <p className="mt-2 text-sm text-soft">
        It marks the setting on the map; lock it there once more. Version {older.version} stays as it was.
      </p>
    </Card>
  )
}

function shareOf({ low, mid, high }: Schema<'RangeOut'>) {
  const [from, about, to] = [low, mid, high].map((share) => Math.round(100 * share))
  return `clean on about ${about} of 100 pieces (${from} to ${to})`
}
