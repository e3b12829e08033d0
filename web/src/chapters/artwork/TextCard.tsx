import { LinesField, RefusalScope } from '../../ui/form'
import { Card } from '../../ui/parts'
import { Lettering } from './Lettering'
import type { Artwork, Edit } from './useArtworkEdit'

/** Typed text, and how it is set. */
export function TextCard({ artwork, edit }: { artwork: Artwork; edit: Edit }) {
  return (
    <RefusalScope error={edit.error}>
      <Card title="Text">
        <div className="grid gap-2">
          <LinesField
            label="Words"
            name="words"
            rows={3}
            value={edit.spec.words}
            set={(words) => edit.change({ words })}
            help={`Capitals come out ${(edit.spec.placement.width_mm * artwork.capital_of_width).toFixed(1)} mm high.`}
          />
          <Lettering edit={edit} />
        </div>
      </Card>
    </RefusalScope>
  )
}
