import { useState } from 'react'
import { Link } from 'react-router'
import type { Schema } from '../../api/client'
import { useMachines } from '../../api/hooks'
import { LastedMark } from '../../drawing/LastedMark'
import { Findings, Problem } from '../../ui/feedback'
import { SelectField } from '../../ui/form'
import { Button, LinkButton } from '../../ui/parts'
import { percent, showEnergy, useUnits } from '../../ui/units'
import { useOwnCard, usePutAway } from './useShelf'

type CardOut = Schema<'CardOut'>

const EVIDENCE: Record<CardOut['evidence'], string> = {
  guess: 'a guess, nothing burned',
  grid: 'from a test grid',
  confirmed: 'confirmed by a full patch',
  proven: 'proven by whole pieces',
}

/** A setting as a tag on the shelf: what to type, for what, how well it is known. */
export function SettingCard({ card, machineId }: { card: CardOut; machineId: number | null }) {
  const { showSpeed, showInterval } = useUnits()
  const away = usePutAway()
  const [using, setUsing] = useState(false)
  return (
    <section
      aria-label={`${card.coat_words} on ${card.substrate_words}`}
      className={`grid content-between gap-3 rounded-2xl border bg-card p-4 ${card.card_id === null ? 'border-line' : 'border-dashed border-soft'}`}
    >
      <div>
        <h2 className="font-bold">{card.substrate_words}</h2>
        <p className="text-sm text-soft">
          {card.process_words}
          {card.art === 'strokes' && ', fine strokes'}; {card.coat_words}, {card.coats}{' '}
          {card.coats === 1 ? 'coat' : 'coats'}
        </p>
        <Findings list={card.cautions} />
        <p className="mt-2 font-mono text-2xl leading-tight">
          {card.power_pct} %, {showSpeed(card.speed_mm_s)}
        </p>
        <p className="font-mono">
          {showInterval(card.interval_mm)}
          {card.passes > 1 && `, ${card.passes} passes`}, {showEnergy(card.energy_j_mm2)}
        </p>
        <p className="mt-2 flex flex-wrap items-center gap-x-3 text-sm">
          {card.share ? (
            <>
              <b>
                {card.pieces_clean} of {card.pieces_seen} pieces clean
              </b>
              <LastedMark share={card.share} />
            </>
          ) : (
            <>
              <b>no piece counted</b>
              <span className="text-soft">
                expected {percent(card.expected.low)} to {percent(card.expected.high)}
              </span>
            </>
          )}
        </p>
        <p className="text-sm text-soft">{EVIDENCE[card.evidence]}</p>
        <p className="mt-1 text-sm text-soft">
          {card.machine_words}, {card.beam_words}, {card.rated_w} W, spot {card.spot_mm} mm
        </p>
        <p className="text-sm">
          {card.job_id !== null ? (
            <Link className="underline underline-offset-4" to={`/jobs/${card.job_id}/window`}>
              {card.title}
            </Link>
          ) : (
            <>
              <b>From {card.workshop || 'elsewhere'}</b>: a hint, no fact
            </>
          )}
        </p>
      </div>
      {using && card.lock_id !== null ? (
        <UseOwn card={card} machineId={machineId} done={() => setUsing(false)} />
      ) : (
        <div className="flex flex-wrap gap-2">
          {card.lock_id !== null ? (
            <Button look="main" onClick={() => setUsing(true)}>
              Use it here
            </Button>
          ) : (
            <>
              {card.cautions.length === 0 && (
                <LinkButton
                  look="main"
                  to={`/jobs/new?card=${card.card_id}${machineId ? `&machine=${machineId}` : ''}`}
                >
                  Use it here
                </LinkButton>
              )}
              <Button
                look="quiet"
                className="order-last"
                disabled={away.isPending}
                onClick={() => card.card_id !== null && away.mutate(card.card_id)}
              >
                Take off the shelf
              </Button>
            </>
          )}
          <a
            className="inline-flex min-h-11 items-center px-2 underline decoration-line underline-offset-4 hover:decoration-ink"
            href={`/api/setting-cards/files/cards.json?uids=${card.uid}`}
            download
          >
            Give away
          </a>
        </div>
      )}
      {away.error && <Problem error={away.error} />}
    </section>
  )
}

/** On which machine; the job that is made carries the window over and draws its confirming grid. */
function UseOwn({ card, machineId, done }: { card: CardOut; machineId: number | null; done: () => void }) {
  const machines = (useMachines().data ?? []).filter((m) => m.source === card.beam)
  const [machine, setMachine] = useState(machineId ?? machines[0]?.id ?? 0)
  const use = useOwnCard(card)
  return (
    <div className="grid gap-2">
      <SelectField
        label="On which machine"
        name="machine_id"
        value={machine}
        onChange={(e) => setMachine(Number(e.target.value))}
        help="Makes a job that carries it over, with a small grid that confirms it."
      >
        {machines.map((m) => (
          <option key={m.id} value={m.id}>
            {m.name}, {m.rated_w} W
          </option>
        ))}
      </SelectField>
      <div className="flex flex-wrap gap-2">
        <Button look="main" disabled={use.isPending || !machine} onClick={() => use.mutate(machine)}>
          Make the job
        </Button>
        <Button look="quiet" onClick={done}>
          Not now
        </Button>
      </div>
      {use.error && <Problem error={use.error} />}
    </div>
  )
}
