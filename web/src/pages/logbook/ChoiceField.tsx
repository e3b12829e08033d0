import { useCatalogue, useMachines } from '../../api/hooks'
import { SelectField } from '../../ui/form'

/** Something to look for, or anything. */
export function ChoiceField({
  name,
  label,
  value,
  from,
  choose,
}: {
  name: string
  label: string
  value: string
  from: [string, string][]
  choose: (value: string) => void
}) {
  return (
    <SelectField label={label} name={name} value={value} onChange={(e) => choose(e.target.value)}>
      <option value="">any</option>
      {from.map(([key, words]) => (
        <option key={key} value={key}>
          {words}
        </option>
      ))}
    </SelectField>
  )
}

/** What there is to choose from, each by its key and its words. */
export function useChoices() {
  const catalogue = useCatalogue().data
  const labelled = (list: { key: string; label: string }[] | undefined) =>
    (list ?? []).map((one): [string, string] => [one.key, one.label])
  return {
    substrates: labelled(catalogue?.substrates.filter((s) => !s.refused)),
    processes: labelled(catalogue?.processes),
    coats: labelled(catalogue?.coats),
    defects: labelled(catalogue?.defects),
    machines: useMachines().data ?? [],
  }
}
