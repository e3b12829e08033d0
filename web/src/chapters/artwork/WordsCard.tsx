import type { Schema } from '../../api/client'
import { TickField } from '../../ui/form'
import { Card } from '../../ui/parts'
import { Lettering } from './Lettering'
import { PieceList } from './PieceList'
import type { Edit } from './useArtworkEdit'

/** How a list of names is set, and which of them is seen. */
export function WordsCard({
  edit,
  names,
  piece,
  see,
}: {
  edit: Edit
  names: Schema<'SetNameOut'>[]
  piece: number
  see: (piece: number) => void
}) {
  return (
    <Card title="Names">
      <div className="grid gap-2">
        <Lettering edit={edit} />
        <TickField checked={edit.spec.one_size} onChange={(e) => edit.change({ one_size: e.target.checked })}>
          One size for all
        </TickField>
      </div>
      <PieceList
        pieces={names.map((name) => ({
          key: name.row,
          name: name.first,
          below: name.second,
          aside: name.why ? 'left out' : `${name.capital_mm.toFixed(1)} mm`,
        }))}
        piece={piece}
        see={see}
      />
    </Card>
  )
}
