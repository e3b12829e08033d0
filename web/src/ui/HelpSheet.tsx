import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { TickField } from './form'
import { Button } from './parts'
import { KEYS, useSingleKeys } from './shortcuts'

const SIGNS: Record<string, string> = { ArrowLeft: '←', ArrowUp: '↑', ArrowRight: '→', ArrowDown: '↓' }
const signOf = (key: string) => SIGNS[key] ?? key.toUpperCase()

/** Keys that act on one thing that has the focus. */
const WHERE_FOCUSED: [string, string][] = [
  ['Tab', 'to the next thing that can be pressed'],
  ['← →', 'on the map of a window: slower, faster'],
  ['↑ ↓', 'there: more power, less power'],
  ['R', 'there: back to the recommended setting'],
]

export function HelpSheet({ open, close, workshop }: { open: boolean; close: () => void; workshop: string }) {
  const [on, turn] = useSingleKeys()
  return (
    <Dialog open={open} onClose={close} className="relative z-20">
      <div className="fixed inset-0 bg-black/40" aria-hidden />
      <div className="fixed inset-0 grid place-items-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-md rounded-2xl border border-line bg-card p-6">
          <DialogTitle className="text-xl font-bold">Keys</DialogTitle>
          <TickField className="mt-2" checked={on} onChange={() => turn(!on)}>
            Keys of one letter, digit or sign act. Switch them off where you dictate.
          </TickField>
          {Object.entries(KEYS).map(([where, keys]) => (
            <KeyRows key={where} where={where} rows={Object.entries(keys)} />
          ))}
          <KeyRows where="Where the focus is" rows={WHERE_FOCUSED} />
          <p className="mt-4 text-sm text-soft">
            You work in {workshop}.{' '}
            <a className="underline" href="/api/docs">
              The API is described here.
            </a>
          </p>
          <Button look="main" className="mt-4 w-full" onClick={close}>
            Close
          </Button>
        </DialogPanel>
      </div>
    </Dialog>
  )
}

function KeyRows({ where, rows }: { where: string; rows: [string, string][] }) {
  return (
    <div className="mt-4">
      <h3 className="text-sm font-bold text-soft">{where}</h3>
      <dl>
        {rows.map(([key, what]) => (
          <div key={key} className="flex justify-between border-b border-line py-1 last:border-0">
            <dt className="font-mono font-bold">{signOf(key)}</dt>
            <dd>{what}</dd>
          </div>
        ))}
      </dl>
    </div>
  )
}
