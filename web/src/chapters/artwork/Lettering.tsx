import type { Schema } from '../../api/client'
import { SelectField, TickField } from '../../ui/form'
import type { Edit } from './useArtworkEdit'

/** How letters look: filled in one of three typefaces, their outlines alone, or single strokes. */
export function Lettering({ edit }: { edit: Edit }) {
  const { typeface } = edit.spec
  return (
    <>
      <SelectField
        label="Typeface"
        name="typeface"
        value={typeface}
        onChange={(e) => edit.change({ typeface: e.target.value as Schema<'Typeface'> })}
      >
        <option value="bold">bold</option>
        <option value="text">plain</option>
        <option value="mono">even widths</option>
        <option value="strokes">single strokes, engraved</option>
      </SelectField>
      {typeface !== 'strokes' && <OutlinesField edit={edit} />}
    </>
  )
}

/** Whether what could be filled is drawn along its edges. */
export function OutlinesField({ edit }: { edit: Edit }) {
  return (
    <TickField checked={edit.spec.outlines} onChange={(e) => edit.change({ outlines: e.target.checked })}>
      Draw the outlines, fill nothing
    </TickField>
  )
}
