"""Whatever was once stored is read for good: one sample of every version of every shape, read by what reads it."""

import json
from pathlib import Path

import pytest
from django.apps import apps
from django.db import connection
from django.db.models import JSONField

from keencoat.bench.faulty import Fault, Faulty
from keencoat.core.stored import SHAPES, StoredShape, StoredShapeError
from keencoat.jobs.archive.shapes import READ_BY
from keencoat.jobs.job.schemas import BatchPieceOut
from keencoat.shop.stored_field import StoredField

SAMPLES = Path(__file__).parents[1] / "stored"


READERS = READ_BY | {
    "practice-faults": lambda body: [Faulty(**(f | {"fault": Fault(f["fault"])})) for f in body.values()],
    "practice-batch": lambda body: [int(body["run"]), *(BatchPieceOut(**p) for p in body["pieces"])],
}
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
