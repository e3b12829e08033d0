import { RefusalScope, SelectField } from '../../ui/form'
import { Card } from '../../ui/parts'
import { OutlinesField } from './Lettering'
import { PieceList } from './PieceList'
import type { Artwork, Edit } from './useArtworkEdit'

/** What of a drawing is burned: all of it, one of its groups, or each group on a piece of its own. */
export function DrawingCard({
  artwork,
  edit,
  piece,
  see,
}: {
  artwork: Artwork
  edit: Edit
  piece: number
  see: (piece: number) => void
}) {
  const { group, each_group } = edit.spec
  const { groups } = artwork
  const chosen = each_group ? 'each' : `of ${group}`
  return (
    <RefusalScope error={edit.error}>
      <Card title="What of it">
        <div className="grid gap-2">
          {groups.length > 1 && (
            <SelectField
              label="Group"
              name="group"
              value={chosen}
              onChange={({ target }) => {
                see(0)
                edit.change(
                  target.value === 'each'
                    ? { each_group: true, group: '' }
                    : { each_group: false, group: target.value.slice(3) },
                )
              }}
            >
              <option value="of ">all of the drawing</option>
              <option value="each">each on a piece of its own</option>
              {groups.map((name) => (
                <option key={name} value={`of ${name}`}>
                  {name} alone
                </option>
              ))}
            </SelectField>
          )}
          <OutlinesField edit={edit} />
        </div>
        {each_group && (
          <PieceList pieces={groups.map((name) => ({ key: name, name }))} piece={piece} see={see} />
        )}
      </Card>
    </RefusalScope>
  )
}
