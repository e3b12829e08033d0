import { Download } from 'lucide-react'
import { useState } from 'react'
import { asQuery } from '../../api/query'
import { FigureField } from '../../ui/FigureField'
import { More } from '../../ui/More'
import { FileLink } from '../../ui/parts'

/** A plate with a pocket for every foot of a turning device: it comes back to the same place. */
export function GuidePlate({ deviceId }: { deviceId: number }) {
  const [feet, setFeet] = useState({
    apart_mm: 200,
    across_mm: 60,
    length_mm: 25,
    width_mm: 15,
    play_mm: 0.3,
    kerf_mm: 0.15,
  })
  const figures: [string, keyof typeof feet][] = [
    ['Feet apart, along', 'apart_mm'],
    ['Apart, across', 'across_mm'],
    ['A foot, along', 'length_mm'],
    ['A foot, across', 'width_mm'],
    ['Play', 'play_mm'],
    ['Kerf', 'kerf_mm'],
  ]
  return (
    <More heading="A guide plate for its feet" className="mt-3">
      <p className="mb-2 text-sm text-soft">
        Measure from middle to middle; 0 across for one row of feet. Screw the plate to the bed by its two
        crosses, square to the head’s travel: the device comes back to the same place.
      </p>
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
        {figures.map(([label, name]) => (
          <FigureField
            key={name}
            label={label}
            name={name}
            value={feet[name]}
            set={(figure) => setFeet((old) => ({ ...old, [name]: figure }))}
          />
        ))}
      </div>
      <div className="mt-2 flex flex-wrap gap-2">
        {(['svg', 'dxf'] as const).map((kind) => (
          <FileLink key={kind} href={`/api/turning-devices/${deviceId}/guide.${kind}?${asQuery(feet)}`}>
            <Download aria-hidden className="size-4" /> Plate, {kind.toUpperCase()}
          </FileLink>
        ))}
      </div>
    </More>
  )
}
