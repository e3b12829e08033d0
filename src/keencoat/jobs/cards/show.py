"""From setting cards to what the API gives."""

from datetime import date

from keencoat.core.coat import wilson
from keencoat.core.exchange import card_findings
from keencoat.core.quantities import Range
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.cards.schemas import CardOut
from keencoat.jobs.cards.services import OnShelf
from keencoat.jobs.window.services.locking import Evidence
from keencoat.shop.fields import FindingOut, RangeOut

_OWN = (
    "uid", "workshop", "title", "substrate", "process", "art", "coat", "coat_words", "coats", "film_um",
    "thickness_mm", "machine_words", "beam", "rated_w", "spot_mm", "power_pct", "speed_mm_s", "interval_mm", "passes",
    "pieces_clean", "pieces_seen",
)  # fmt: skip


def show_card(row: OnShelf) -> CardOut:
    """A card of the shelf."""
    card = row.card
    share = None
    if card.pieces_seen:
        low, high = wilson(card.pieces_clean, card.pieces_seen)
        share = RangeOut.showing(Range(low, card.pieces_clean / card.pieces_seen, high))
    return CardOut(
        **{name: getattr(card, name) for name in _OWN},
        lock_id=row.lock.pk if row.lock else None,
        job_id=row.lock.job_id if row.lock else None,
        card_id=row.brought.pk if row.brought else None,
        locked_on=date.fromisoformat(card.locked_on) if card.locked_on else None,
        substrate_words=SUBSTRATES[card.substrate].label,
        process_words=PROCESSES[card.process].label,
        beam_words=card.beam.label,
        energy_j_mm2=card.energy_j_mm2(),
        expected=RangeOut.showing(Range(card.clean_low, card.clean, card.clean_high)),
        evidence=Evidence(card.evidence),
        share=share,
        cautions=[FindingOut.showing(finding) for finding in card_findings(card)],
    )
