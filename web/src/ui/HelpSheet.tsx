import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react'
import { Button } from './parts'

const KEYS: [string, [string, string][]][] = [
  [
    'Everywhere',
    [
      ['?', 'this sheet'],
      ['Tab', 'to the next thing that can be pressed'],
    ],
  ],
  [
    'Reading',
    [
      ['← ↑ → ↓', 'to the neighbouring cell'],
      ['1', 'faint'],
      ['2', 'clean'],
      ['3', 'harsh'],
      ['0', 'clear the rating'],
      ['P', 'take the proposal of the photo'],
      ['S', 'heard snapping'],
      ['Z', 'take the last rating back'],
    ],
  ],
  [
    'Window',
    [
      ['← →', 'slower, faster'],
      ['↑ ↓', 'more power, less power'],
      ['R', 'back to the recommended setting'],
    ],
  ],
]

export function HelpSheet({ open, close, workshop }: { open: boolean; close: () => void; workshop: string }) {
  return (
    <Dialog open={open} onClose={close} className="relative z-20">
      <div className="fixed inset-0 bg-black/40" aria-hidden />
      <div className="fixed inset-0 grid place-items-center overflow-y-auto p-4">
        <DialogPanel className="w-full max-w-md rounded-2xl border border-line bg-card p-6">
          <DialogTitle className="text-xl font-bold">Keys</DialogTitle>
          {KEYS.map(([where, rows]) => (
            <div key={where} className="mt-4">
              <h3 className="text-sm font-bold text-soft">{where}</h3>
              <dl>
                {rows.map(([key, what]) => (
                  <div key={key} className="flex justify-between border-b border-line py-1 last:border-0">
                    <dt className="font-mono font-bold">{key}</dt>
                    <dd>{what}</dd>
                  </div>
                ))}
              </dl>
            </div>
          ))}
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
