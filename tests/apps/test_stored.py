"""Whatever was once stored is read for good: one sample of every version of every shape, read by what reads it."""

import json
from pathlib import Path
from types import SimpleNamespace

import pytest
from django.apps import apps
from django.db import connection
from django.db.models import JSONField
from pydantic import TypeAdapter

from keencoat.bench.faulty import Fault, Faulty
from keencoat.core.artwork import flaws_from
from keencoat.core.coat.own import coat_from_facts
from keencoat.core.grid.factors import Factor
from keencoat.core.inspect import require_answer
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.round import make_piece
from keencoat.core.quantities.setting import Art, Setting
from keencoat.core.rating import Rating
from keencoat.core.reading.cells import CellReading
from keencoat.core.stored import SHAPES, StoredShape, StoredShapeError
from keencoat.core.substrate.processes import DEFECTS
from keencoat.jobs.artwork.models import spec_of
from keencoat.jobs.artwork.show import show_likeness
from keencoat.jobs.batch.schemas import GoneThroughOut, StepNoteOut
from keencoat.jobs.cards.models import card_of
from keencoat.jobs.coat.proof_schemas import ReadingOut, TroubleOut
from keencoat.jobs.cost.services import told_of
from keencoat.jobs.grid.schemas import GridHeatOut
from keencoat.jobs.job.schemas import BatchPieceOut
from keencoat.jobs.models import Batch, JobCost
from keencoat.jobs.placing.models import placing_spec_of
from keencoat.shop.fields import FindingOut
from keencoat.shop.models import Eyewear, KeptJig, Workshop, machine_of
from keencoat.shop.rates import rates_of
from keencoat.shop.stored_field import StoredField

SAMPLES = Path(__file__).parents[1] / "stored"


def figures_of(values):
    return [float(v) for v in values]


def piece_of(facts):
    return make_piece(**(facts | {"shape": Shape(facts["shape"])}))


def evidence_of(kept):
    named = dict(kept["machine"])
    assert named.pop("name")
    for grid in kept["grids"]:
        machine_of(grid["machine"])
        assert [Rating(c["rating"]) for c in grid["cells"]]
    read = kept["readings"]["fills"]
    return (
        piece_of(kept["piece"]),
        machine_of(named),
        kept["coat_facts"]["label"],
        [lot["code"] for lot in kept["lots"]],
        figures_of(read["clean"].values()),
        kept["fits"]["fills"]["model_version"],
        kept["tool"],
        kept["coats"],
        kept["substrate"],
        figures_of(kept["scatter"].values()),
    )


FROSTED = SimpleNamespace(process="frost", piece=lambda: FlatPiece(Shape.RECTANGLE, 60, 60, 3))
READERS = {
    "artwork-likeness": lambda body: (show_likeness(body, FROSTED), body["flaws"] and flaws_from(body["flaws"])),
    "artwork-spec": spec_of,
    "amounts": lambda body: figures_of(body.values()),
    "coat-facts": lambda body: coat_from_facts(body, "own-1"),
    "coat-reading": lambda body: ReadingOut(**body),
    "cost-rates": lambda body: rates_of(Workshop(rates=body)),
    "corners": lambda body: [(float(x), float(y)) for x, y in body],
    "defects": lambda body: [DEFECTS[key] for key in body],
    "eyewear-bands": lambda body: Eyewear(name="pair", bands=body).to_core().bands,
    "face": lambda body: FlatPiece(**(body | {"shape": Shape(body["shape"])})),
    "factors": lambda body: [Factor(key) for key in body],
    "figures": lambda body: figures_of(body.values()),
    "findings": lambda body: TypeAdapter(list[FindingOut]).validate_python(body),
    "finish-ticks": lambda body: [label.strip() for label in body],
    "gate-ticks": lambda body: [GoneThroughOut(**gone) for gone in body],
    "grid-heat": lambda body: GridHeatOut(**body),
    "grid-reading": lambda body: [CellReading(**c) for c in body["cells"]] + figures_of([body["px_per_mm"]]),
    "jig-crosses": lambda body: [(float(x), float(y)) for x, y in body],
    "jig-spec": lambda body: KeptJig(spec=body).asked(),
    "job-cost": lambda body: told_of(JobCost(told=body)),
    "lock-evidence": evidence_of,
    "locked-settings": lambda body: {Art(name): Setting(**facts) for name, facts in body.items()},
    "machine": machine_of,
    "order": lambda body: [(int(row["arm"]), int(row["piece"])) for row in body],
    "piece-log": lambda body: [StepNoteOut(**note) for note in body],
    "placing-spec": placing_spec_of,
    "practice-faults": lambda body: [Faulty(**(f | {"fault": Fault(f["fault"])})) for f in body.values()],
    "test-answers": lambda body: [require_answer(test, answer) or test for test, answer in body.items()],
    "practice-batch": lambda body: [int(body["run"]), *(BatchPieceOut(**p) for p in body["pieces"])],
    "range": lambda body: Batch(expected=body).expected_clean(),
    "ratings-before": lambda body: [(c["rating"], c["defects"], c["strokes"], c["heard_snapping"])
                                    for c in body.values()],
    "setting": lambda body: Setting(**body),
    "setting-card": card_of,
    "spot-points": lambda body: [figures_of(line.values()) for line in body],
    "spot-result": lambda body: (figures_of(body["radius_um"].values()), figures_of(body["threshold_pct"].values()),
                                 body["r2"], body["spot_mm"], body["findings"]),
    "trouble": lambda body: TroubleOut(**body),
}  # fmt: skip
"""What the code makes of each shape as it is now."""


@pytest.mark.parametrize(("name", "version"), [(s.name, v + 1) for s in SHAPES.values() for v in range(s.version)])
def test_every_version_that_was_ever_stored_is_read(name, version):
    sample = json.loads((SAMPLES / f"{name}.{version}.json").read_text())
    assert (sample["schema"], sample["version"]) == (name, version)
    assert READERS[name](SHAPES[name].unpack(sample))


def test_no_model_keeps_json_without_a_shape():
    fields = [f for m in apps.get_models() for f in m._meta.fields if isinstance(f, JSONField)]
    ours = [f for f in fields if f.model.__module__.startswith("keencoat")]
    assert len(ours) >= 25
    assert [f for f in ours if not isinstance(f, StoredField)] == []
    assert {f.shape.name for f in ours} == set(SHAPES)


def test_older_bodies_are_made_new_step_by_step():
    shape = StoredShape("plate", (lambda b: b | {"wide_mm": b["w"]}, lambda b: {"wide_mm": b["wide_mm"] * 10}))
    assert shape.version == 3
    for version, body in ((1, {"w": 2}), (2, {"w": 2, "wide_mm": 2}), (3, {"wide_mm": 20})):
        assert shape.unpack({"schema": "plate", "version": version, "body": body}) == {"wide_mm": 20}
    assert shape.unpack(shape.pack([1])) == [1]


@pytest.mark.parametrize("stored", [
    {}, [], {"schema": "tile", "version": 1, "body": 1}, {"schema": "plate", "version": 1},
    {"schema": "plate", "version": 0, "body": 1}, {"schema": "plate", "version": 2, "body": 1},
    {"schema": "plate", "version": "1", "body": 1},
])  # fmt: skip
def test_what_is_of_another_shape_or_newer_is_refused(stored):
    with pytest.raises(StoredShapeError):
        StoredShape("plate").unpack(stored)


def test_the_column_names_its_shape_and_a_newer_one_is_told(api):
    job = api.coated_job()
    grid = api.burned_grid(job)
    with connection.cursor() as cursor:
        cursor.execute("select machine_facts ->> 'schema', (machine_facts -> 'version')::int from jobs_testgrid")
        assert cursor.fetchall() == [("machine", 1)]
        cursor.execute("update jobs_testgrid set machine_facts = jsonb_set(machine_facts, '{version}', '9')")
    told = api.get(f"/grids/{grid['id']}/files/csv", expect=409)
    assert "version 9" in told["detail"]
