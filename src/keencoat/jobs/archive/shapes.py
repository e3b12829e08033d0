"""Each shape of stored JSON, and what reads it: so that what comes from elsewhere is read once before it is kept."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

from pydantic import TypeAdapter

from keencoat.core.artwork import flaws_from
from keencoat.core.coat import coat_from_facts
from keencoat.core.grid import Factor
from keencoat.core.inspect import ON_PIECES, require_answer
from keencoat.core.piece import FlatPiece, Shape, make_piece
from keencoat.core.quantities import Art, Setting
from keencoat.core.rating import Rating
from keencoat.core.reading import CellReading
from keencoat.core.substrate import DEFECTS
from keencoat.jobs.archive.schemas import ArchiveReportOut
from keencoat.jobs.artwork.models import spec_of
from keencoat.jobs.batch.schemas import GoneThroughOut, StepNoteOut
from keencoat.jobs.cards.models import card_of
from keencoat.jobs.coat.proof_schemas import ReadingOut, TroubleOut
from keencoat.jobs.cost.piece_work import told_of
from keencoat.jobs.grid.schemas import GridHeatOut
from keencoat.jobs.models import Batch, JobCost, MoneySlip
from keencoat.jobs.placing.models import placing_spec_of
from keencoat.shop.fields import FindingOut
from keencoat.shop.models import Eyewear, KeptJig, Workshop, machine_of
from keencoat.shop.rates import rates_of


def _figures(values: Iterable[Any]) -> list[float]:
    return [float(value) for value in values]


def _evidence(kept: Mapping[str, Any]) -> object:
    named = {name: value for name, value in kept["machine"].items() if name != "name"}
    for grid in kept["grids"]:
        machine_of(grid["machine"])
        _ratings(grid["cells"])
    read = kept["readings"]["fills"]
    return (
        make_piece(**(kept["piece"] | {"shape": Shape(kept["piece"]["shape"])})),
        machine_of(named),
        kept["machine"]["name"],
        kept["coat_facts"]["label"],
        [lot["code"] for lot in kept["lots"]],
        _figures(read["clean"].values()),
        kept["fits"]["fills"]["model_version"],
        kept["tool"],
        kept["coats"],
        kept["substrate"],
        _figures(kept["scatter"].values()),
    )


def _answers(body: Mapping[str, str]) -> object:
    for test, answer in body.items():
        require_answer(test, answer)
    return [*body]


def _ratings(cells: Iterable[Mapping[str, Any]]) -> list[Rating]:
    return [Rating(cell["rating"]) for cell in cells]


def _slip(body: Mapping[str, Any]) -> object:
    slip = MoneySlip(kind="quote", year=2000, number=1, told=body).to_core()
    words = (*slip.seller, *slip.details, slip.for_whom, slip.what, slip.currency)
    return slip.asked, [line.strip() for line in words]


READ_BY: dict[str, Callable[[Any], object]] = {
    "archive-report": lambda body: ArchiveReportOut(**body),
    "artwork-likeness": lambda body: (
        _figures([body["off_l"], body["lean_l"]]),
        body["flaws"] and flaws_from(body["flaws"]),
    ),
    "artwork-spec": spec_of,
    "amounts": lambda body: _figures(body.values()),
    "coat-facts": lambda body: coat_from_facts(body, "own-1"),
    "coat-reading": lambda body: ReadingOut(**body),
    "cost-rates": lambda body: rates_of(Workshop(rates=body)),
    "corners": lambda body: [(float(x), float(y)) for x, y in body],
    "defects": lambda body: [(DEFECTS | ON_PIECES)[key] for key in body],
    "eyewear-bands": lambda body: Eyewear(name="pair", bands=body).to_core().bands,
    "face": lambda body: FlatPiece(**(body | {"shape": Shape(body["shape"])})),
    "factors": lambda body: [Factor(key) for key in body],
    "figures": lambda body: _figures(body.values()),
    "findings": lambda body: TypeAdapter(list[FindingOut]).validate_python(body),
    "finish-ticks": lambda body: [label.strip() for label in body],
    "gate-ticks": lambda body: [GoneThroughOut(**gone) for gone in body],
    "grid-heat": lambda body: GridHeatOut(**body),
    "grid-reading": lambda body: [CellReading(**c) for c in body["cells"]] + _figures([body["px_per_mm"]]),
    "jig-crosses": lambda body: [(float(x), float(y)) for x, y in body],
    "jig-spec": lambda body: KeptJig(spec=body).asked(),
    "job-cost": lambda body: told_of(JobCost(told=body)),
    "lock-evidence": _evidence,
    "locked-settings": lambda body: {Art(name): Setting(**facts) for name, facts in body.items()},
    "machine": machine_of,
    "money-slip": _slip,
    "order": lambda body: [(int(row["arm"]), int(row["piece"])) for row in body],
    "piece-log": lambda body: [StepNoteOut(**note) for note in body],
    "placing-spec": placing_spec_of,
    "test-answers": _answers,
    "range": lambda body: Batch(expected=body).expected_clean(),
    "ratings-before": lambda body: [
        (c["rating"], c["defects"], c["strokes"], c["heard_snapping"]) for c in body.values()
    ],
    "setting": lambda body: Setting(**body),
    "setting-card": card_of,
    "spot-points": lambda body: [_figures(line.values()) for line in body],
    "spot-result": lambda body: (
        body["findings"],
        [_figures(v.values()) for v in body.values() if isinstance(v, dict)],
    ),
    "trouble": lambda body: TroubleOut(**body),
}
"""What the code makes of each shape as it is now; a body that it cannot read raises one of UNREADABLE."""
