import type { Schema } from '../../api/client'
import { RangeField, RefusalScope, SelectField, TickField } from '../../ui/form'
import { More } from '../../ui/More'
import { Button, Card } from '../../ui/parts'
import { BeforeAfter } from './BeforeAfter'
import type { Artwork, Edit } from './useArtworkEdit'

const SCREENS: [Schema<'Screen'>, string][] = [
  ['threshold', 'one tone: burned or not'],
  ['stucki', 'greys, fine and crisp (Stucki)'],
  ['jarvis_judice_ninke', 'greys, smooth (Jarvis, Judice, Ninke)'],
  ['floyd_steinberg', 'greys, fine grain (Floyd, Steinberg)'],
  ['burkes', 'greys, quick (Burkes)'],
  ['sierra', 'greys, even (Sierra)'],
  ['sierra_two_row', 'greys, even, two rows (Sierra)'],
  ['sierra_lite', 'greys, coarse (Sierra)'],
  ['atkinson', 'greys with more contrast (Atkinson)'],
  ['bayer_8', 'greys in an even pattern, 8 × 8'],
  ['bayer_4', 'greys in an even pattern, 4 × 4'],
  ['bayer_2', 'greys in an even pattern, 2 × 2'],
]
const PLAIN = {
  black: 0,
  white: 1,
  gamma: 1,
  brightness: 0,
  contrast: 1,
  local: 0,
  sharpen: 0,
  ground: 0,
  crop: { left: 0, top: 0, right: 1, bottom: 1 },
}
const pct = (share: number) => `${Math.round(100 * share)} %`
const times = (n: number) => `× ${n.toFixed(2)}`

/** A photo's tones, and how they become dots. */
export function ToneCard({ artwork, edit }: { artwork: Artwork; edit: Edit }) {
  const { tone, screen, serpentine, take_back_gain } = edit.spec
  const crop = (part: Partial<typeof tone.crop>) => edit.tone({ crop: { ...tone.crop, ...part } })
  return (
    <RefusalScope error={edit.error}>
      <Card
        title="Tones"
        aside={
          <Button look="quiet" className="-my-3" onClick={() => edit.tone(PLAIN)}>
            As it came
          </Button>
        }
      >
        <BeforeAfter artwork={artwork} edit={edit} />
        <div className="mt-3 grid gap-2">
          <SelectField
            label="Dots"
            name="screen"
            value={screen}
            onChange={(e) => edit.change({ screen: e.target.value as Schema<'Screen'> })}
          >
            {SCREENS.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </SelectField>
          <RangeField
            label="Black point"
            min={0}
            max={0.6}
            step={0.01}
            value={tone.black}
            show={pct}
            set={(black) => edit.tone({ black })}
          />
          <RangeField
            label="White point"
            min={0.4}
            max={1}
            step={0.01}
            value={tone.white}
            show={pct}
            set={(white) => edit.tone({ white })}
          />
          <RangeField
            label="Middle tones"
            min={0.4}
            max={2.5}
            step={0.05}
            value={tone.gamma}
            show={times}
            set={(gamma) => edit.tone({ gamma })}
          />
          <RangeField
            label="Brightness"
            min={-0.3}
            max={0.3}
            step={0.01}
            value={tone.brightness}
            show={pct}
            set={(brightness) => edit.tone({ brightness })}
          />
          <RangeField
            label="Contrast"
            min={0}
            max={2.5}
            step={0.05}
            value={tone.contrast}
            show={times}
            set={(contrast) => edit.tone({ contrast })}
          />
          <RangeField
            label="Local contrast"
            min={0}
            max={1.5}
            step={0.05}
            value={tone.local}
            show={pct}
            set={(local) => edit.tone({ local })}
          />
          <RangeField
            label="Sharpening"
            min={0}
            max={2}
            step={0.05}
            value={tone.sharpen}
            show={pct}
            set={(sharpen) => edit.tone({ sharpen })}
          />
          <RangeField
            label="Take away an even ground"
            min={0}
            max={0.12}
            step={0.005}
            value={tone.ground}
            show={pct}
            set={(ground) => edit.tone({ ground })}
          />
        </div>
        <More heading="Crop by figures">
          <div className="grid gap-2">
            <RangeField
              label="From the left"
              min={0}
              max={0.9}
              step={0.01}
              value={tone.crop.left}
              show={pct}
              set={(left) => crop({ left })}
            />
            <RangeField
              label="From the right"
              min={0}
              max={0.9}
              step={0.01}
              value={1 - tone.crop.right}
              show={pct}
              set={(cut) => crop({ right: 1 - cut })}
            />
            <RangeField
              label="From the top"
              min={0}
              max={0.9}
              step={0.01}
              value={tone.crop.top}
              show={pct}
              set={(top) => crop({ top })}
            />
            <RangeField
              label="From the bottom"
              min={0}
              max={0.9}
              step={0.01}
              value={1 - tone.crop.bottom}
              show={pct}
              set={(cut) => crop({ bottom: 1 - cut })}
            />
          </div>
        </More>
        {screen !== 'threshold' && (
          <>
            <TickField
              checked={take_back_gain}
              onChange={(e) => edit.change({ take_back_gain: e.target.checked })}
            >
              Take back what dots gain
            </TickField>
            <TickField checked={serpentine} onChange={(e) => edit.change({ serpentine: e.target.checked })}>
              To and fro, line by line
            </TickField>
          </>
        )}
      </Card>
    </RefusalScope>
  )
}
