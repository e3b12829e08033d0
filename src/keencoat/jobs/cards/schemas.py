"""What the endpoints of setting cards take and give."""

from datetime import date

from keencoat.core.quantities import Art, BeamSource
from keencoat.jobs.window.services.locking import Evidence
from keencoat.shop.fields import Asked, FindingOut, Key, Note, RangeOut, Shown


class CardsAsked(Asked):
    """What to look for; empty is anything."""

    words: Note = ""
    substrate: Key = ""
    process: Key = ""
    coat: Key = ""
    machine_id: int | None = None


class CardOut(Shown):
    """A setting card. `lock_id`, `job_id`: of one's own; `card_id`: of one that was brought. `share`: of the pieces
    that were run, the clean ones, with the range that holds the true share nine times in ten."""

    uid: str
    lock_id: int | None
    job_id: int | None
    card_id: int | None
    workshop: str
    title: str
    locked_on: date | None
    substrate: str
    substrate_words: str
    process: str
    process_words: str
    art: Art
    coat: str
    coat_words: str
    coats: int
    film_um: float
    thickness_mm: float
    machine_words: str
    beam: BeamSource
    beam_words: str
    rated_w: float
    spot_mm: float
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int
    energy_j_mm2: float
    expected: RangeOut
    evidence: Evidence
    pieces_clean: int
    pieces_seen: int
    share: RangeOut | None
    cautions: list[FindingOut]


class BroughtOut(Shown):
    """What came of bringing cards; `doubtful`: how many of them nobody should burn as they are."""

    new: int
    known: int
    own: int
    doubtful: int


class UseCardIn(Asked):
    """Where to use a card of one's own."""

    machine_id: int
    art: Art = Art.FILLS
