import { Empty, Loading, Problem } from '../../ui/feedback'
import { FilePick } from '../../ui/FilePick'
import { RefusalScope, TypedField } from '../../ui/form'
import { FileLink } from '../../ui/parts'
import { useSettled } from '../../ui/useSettled'
import { ChoiceField, useChoices } from './ChoiceField'
import { LogbookHead } from './LogbookHead'
import { SettingCard } from './SettingCard'
import { useChosen } from './useChosen'
import { queryOf, useBringCards, useCards } from './useShelf'

const NAMES = ['words', 'substrate', 'process', 'machine_id'] as const
const FILES = [
  ['wall.pdf', 'Wall sheet'],
  ['cards.pdf', 'Cards to cut out'],
  ['cards.json', 'JSON'],
  ['cards.csv', 'CSV'],
] as const

/** Every locked setting as a card, those of other workshops beside them. */
export default function ShelfPage() {
  const { wanted, choose, pick } = useChosen(NAMES)
  const found = useCards(useSettled(wanted))
  const bring = useBringCards()
  const { substrates, processes, machines } = useChoices()
  const narrowed = Object.values(wanted).some(Boolean)
  const query = new URLSearchParams(queryOf(wanted)).toString()
  return (
    <RefusalScope error={bring.error}>
      <LogbookHead part="Settings shelf" />
      <div role="search" className="mb-4 grid grid-cols-2 gap-3 lg:grid-cols-4">
        <ChoiceField
          {...pick('machine_id')}
          label="For this machine"
          from={machines.map((m) => [String(m.id), m.name])}
        />
        <ChoiceField {...pick('substrate')} label="Substrate" from={substrates} />
        <ChoiceField {...pick('process')} label="Process" from={processes} />
        <TypedField
          label="Words"
          name="words"
          type="search"
          defaultValue={wanted.words}
          set={(text) => choose({ words: text })}
        />
      </div>
      <div className="mb-4 flex flex-wrap items-center gap-2">
        <FilePick
          accept=".json,.csv,application/json,text/csv"
          pick={(file) => bring.mutate(file)}
          disabled={bring.isPending}
        >
          Bring cards in
        </FilePick>
        {(found.data?.length ?? 0) > 0 &&
          FILES.map(([name, words]) => (
            <FileLink key={name} href={`/api/setting-cards/files/${name}?${query}`}>
              {words}
            </FileLink>
          ))}
      </div>
      {bring.data && (
        <p role="status" className="mb-3">
          {bring.data.new} new {bring.data.new === 1 ? 'card' : 'cards'}
          {bring.data.known > 0 && `, ${bring.data.known} were here already`}
          {bring.data.own > 0 && `, ${bring.data.own} are your own`}.
          {bring.data.doubtful > 0 &&
            ` ${bring.data.doubtful} of them must not be burned as they are: each says why.`}
        </p>
      )}
      {bring.error && <Problem error={bring.error} />}
      {found.isPending ? (
        <Loading what="shelf" />
      ) : found.isError ? (
        <Problem error={found.error} again={() => void found.refetch()} />
      ) : found.data.length === 0 ? (
        <Empty title={narrowed ? 'No card fits all of this' : 'The shelf is empty'}>
          Every locked setting stands here as a card; bring in those of other workshops.
        </Empty>
      ) : (
        <div className="grid gap-4 sm:grid-cols-2 xl:grid-cols-3">
          {found.data.map((card) => (
            <SettingCard
              key={card.uid + card.art}
              card={card}
              machineId={wanted.machine_id ? Number(wanted.machine_id) : null}
            />
          ))}
        </div>
      )}
    </RefusalScope>
  )
}
