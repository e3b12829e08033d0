import type { Schema } from '../../api/client'
import { Figures } from '../../ui/parts'
import { percent } from '../../ui/units'

/** A finished piece beside what was expected of it. */
export function Likeness({
  alike,
  upright,
  off,
}: {
  alike: Schema<'LikenessOut'>
  upright: string
  off: string
}) {
  const [right, up] = alike.shift_mm ?? []
  return (
    <>
      <div className="grid gap-3 sm:grid-cols-2">
        <figure>
          <div className="relative">
            <img
              src={upright}
              alt="The piece straight on, turned as the artwork is"
              className="w-full rounded-lg"
            />
            {alike.patches.map((patch) => (
              <Framed key={`${patch.left} ${patch.top} ${patch.missing}`} patch={patch} />
            ))}
          </div>
          <figcaption className="mt-1 text-sm text-soft">
            As it came out{alike.patches.length > 0 && '. Dashed: a mark is missing. Dotted: one too many'}
          </figcaption>
        </figure>
        <figure>
          <img
            src={off}
            alt="Where there is less mark than expected, in blue, and more, in orange"
            className="w-full rounded-lg"
          />
          <figcaption className="mt-1 text-sm text-soft">
            Blue: less mark than expected. Orange: more.
          </figcaption>
        </figure>
      </div>
      <Seen seen={alike.seen} />
      <Figures
        rows={[
          ['off by, in millimetre squares', `${alike.off_l.toFixed(1)} L*`],
          ['a tenth of them by more than', `${alike.off_l_most.toFixed(1)} L*`],
          ['on the whole', lean(alike.lean_l)],
          ['under four fifths of what was meant', percent(alike.faint_share)],
          [
            'moved',
            right === undefined || up === undefined
              ? 'not told: the edges do not stand out'
              : Math.hypot(right, up) < LEAST_MM
                ? 'less than 0.05 mm'
                : `${Math.abs(right).toFixed(2)} mm ${right > 0 ? 'right' : 'left'}, ${Math.abs(up).toFixed(2)} mm ${up > 0 ? 'up' : 'down'}`,
          ],
          ...whole(alike),
        ]}
      />
      {!alike.anchored && (
        <p className="mt-2 text-sm text-soft">
          Bare ground and a full mark are not both in the picture: only its greys are compared with each
          other.
        </p>
      )}
    </>
  )
}

/** What is wrong with the mark, in words that the server gives. */
function Seen({ seen }: { seen: Schema<'LikenessOut'>['seen'] }) {
  if (seen === null) return null
  if (seen.length === 0) return <p className="my-3">Nothing missing, doubled, streaked or hazed is seen.</p>
  return (
    <ul aria-label="Seen on the photo" className="my-3 list-disc space-y-1 pl-5">
      {seen.map(({ words }) => (
        <li key={words}>{words}</li>
      ))}
    </ul>
  )
}

/** A patch, framed where it lies, with a rim that stands out on light and on dark. */
function Framed({ patch: { left, top, width, height, missing } }: { patch: Schema<'PatchOut'> }) {
  return (
    <span
      aria-hidden
      className={`absolute rounded-sm border-2 outline-1 outline-black/40 ${missing ? 'border-dashed' : 'border-dotted'} border-white`}
      style={{
        left: `${left * 100}%`,
        top: `${top * 100}%`,
        width: `${width * 100}%`,
        height: `${height * 100}%`,
      }}
    />
  )
}

const LEAST_MM = 0.05
const LEAST_DEG = 0.2
const LEAST_PCT = 0.4

/** How the whole mark lies besides: turned, too wide, too high. A photo tells no less than these. */
function whole({ askew_deg, size_pct }: Schema<'LikenessOut'>): [string, string][] {
  if (askew_deg === null || !size_pct) return []
  const [wider = 0, higher = 0] = size_pct
  const size = (pct: number, more: string, less: string) =>
    Math.abs(pct) < LEAST_PCT ? 'as meant' : `${Math.abs(pct).toFixed(1)} % ${pct > 0 ? more : less}`
  return [
    [
      'askew',
      Math.abs(askew_deg) < LEAST_DEG
        ? `less than ${LEAST_DEG}°`
        : `${Math.abs(askew_deg).toFixed(1)}° ${askew_deg > 0 ? 'counterclockwise' : 'clockwise'}`,
    ],
    ['across', size(wider, 'too wide', 'too narrow')],
    ['upwards', size(higher, 'too high', 'too low')],
  ]
}

const lean = (l: number) =>
  Math.abs(l) < 0.5
    ? 'neither lighter nor darker'
    : `${Math.abs(l).toFixed(1)} L* ${l > 0 ? 'lighter' : 'darker'}`
