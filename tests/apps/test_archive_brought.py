"""An archive brought into another workshop: all of it, once, and nothing that is not what it says."""

import io
import json
import random
from datetime import timedelta
from zipfile import ZIP_DEFLATED, ZipFile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import transaction
from django.db.models import ForeignKey
from django.utils import timezone

from keencoat.core.errors import BadValueError
from keencoat.core.states import BurnState
from keencoat.core.window import odds_of
from keencoat.jobs.archive.bringing import bring_in, keep_archive, mend_archives, run_archive
from keencoat.jobs.archive.kinds import KINDS
from keencoat.jobs.archive.making import Into, make_row
from keencoat.jobs.archive.opening import open_archive
from keencoat.jobs.archive.packing import pack_workshop
from keencoat.jobs.belief import fit_of
from keencoat.jobs.demo import load_demo
from keencoat.jobs.job.services import delete_job
from keencoat.jobs.models import BroughtArchive, CoatPhoto, Job, MoneySlip
from keencoat.jobs.tasks import archive as archive_task
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Machine, Workshop
from tests.apps.conftest import Api

NAMES = tuple(kind.name for kind in KINDS)


def packed(shop):
    out = io.BytesIO()
    pack_workshop(shop, out, timezone.now())
    return out.getvalue()


def the_garden():
    load_demo(timezone.now())
    return Workshop.objects.get(name="Garden workshop")


@pytest.fixture(scope="module")
def whole(django_db_setup, django_db_blocker):
    """The archive of the demo's workshop, which is gone again."""
    with django_db_blocker.unblock(), transaction.atomic():
        data = packed(the_garden())
        transaction.set_rollback(True)
    return data


@pytest.fixture(scope="module")
def small(whole):
    """The same with two of its jobs, and what belongs to them."""
    return changed(whole, only_jobs({"Light signs, orchid house", "Trail markers, fern walk"}))


def only_jobs(names):
    def act(files):
        ids = {}
        for kind in KINDS:
            refers = [
                (f.attname, ids.get(f.related_model))
                for f in kind.model._meta.concrete_fields
                if isinstance(f, ForeignKey)
            ]
            # The log names jobs that may be gone.
            refers += [("job_id", ids.get(Job))] if kind.model is LogEntry else []
            rows = [
                row
                for row in json.loads(files[f"rows/{kind.name}.json"])
                if all(known is None or row[name] is None or row[name] in known for name, known in refers)
                and (kind.name != "jobs" or row["name"] in names)
            ]
            ids[kind.model] = {row["id"] for row in rows}
            files[f"rows/{kind.name}.json"] = json.dumps(rows).encode()

    return act


def names_in(data):
    with ZipFile(io.BytesIO(data)) as files:
        return {row["name"] for row in json.loads(files.read("rows/jobs.json"))}


def changed(data, change):
    """The archive with `change(files)` done to its files, by name."""
    with ZipFile(io.BytesIO(data)) as before:
        files = {name: before.read(name) for name in before.namelist()}
    change(files)
    out = io.BytesIO()
    with ZipFile(out, "w", ZIP_DEFLATED) as after:
        for name, found in files.items():
            after.writestr(name, found)
    return out.getvalue()


def rows_changed(kind, change):
    def act(files):
        rows = json.loads(files[f"rows/{kind}.json"])
        for row in rows:
            change(row)
        files[f"rows/{kind}.json"] = json.dumps(rows).encode()

    return act


def bring(shop, data):
    row = keep_archive(shop, "garden.zip", io.BytesIO(data), timezone.now())
    run_archive(row.pk)
    row.refresh_from_db()
    assert row.state == BurnState.DONE, row.trouble
    assert not row.parts.exists()
    return row.report


def counts(shop):
    return {kind.name: kind.rows(shop).count() for kind in KINDS}


def test_all_of_a_workshop_comes_over_once(db):
    garden, other = the_garden(), Api("orangery")
    other.machine.delete()
    data, had = packed(garden), counts(garden)
    report = bring(other.shop, data)
    assert report["skipped"] == []
    assert report["source"] == "Garden workshop"
    assert {kind: n for kind, n in had.items() if n} == report["brought"]
    assert counts(other.shop) == had
    for old, new in zip(garden.jobs.order_by("pk"), other.shop.jobs.order_by("pk"), strict=True):
        assert old.pk != new.pk
        assert (old.name, old.machine.name, old.grids.count()) == (new.name, new.machine.name, new.grids.count())
        assert (old.carried_from and old.carried_from.name) == (new.carried_from and new.carried_from.name)
        assert new.machine.workshop_id == other.shop.pk
        for one, its in zip(old.grids.all(), new.grids.all(), strict=True):
            told = "code", "rating", "defects", "power_pct", "speed_mm_s"
            assert [*one.cells.values(*told)] == [*its.cells.values(*told)]
    pictures = [
        [bytes(p.original) for p in CoatPhoto.objects.filter(job__workshop=s).order_by("pk")]
        for s in (garden, other.shop)
    ]
    assert pictures[0] == pictures[1] != []
    job, its = (s.jobs.filter(locked__isnull=False).order_by("pk").first() for s in (garden, other.shop))
    odds = [odds_of(fit_of(j), j.locked.first().setting(), j.machine.to_core()) for j in (job, its)]
    assert odds[0] == odds[1]
    # What is in it leads to rows of the new workshop, on every page.
    for path in ("/jobs", "/logged-burns", "/setting-cards", "/logbook", "/machines"):
        assert garden.name not in json.dumps(other.get(path))
    for new in other.shop.jobs.all():
        assert other.get(f"/jobs/{new.pk}")["name"] == new.name
    assert set(LogEntry.objects.filter(workshop=other.shop).values_list("job_id", flat=True)) <= {
        j.pk for j in other.shop.jobs.all()
    }
    # A second time, and into itself, nothing comes.
    for shop in (other.shop, garden):
        again = bring(shop, data)
        assert again["brought"] == {}
        assert again["skipped"] == []
        assert again["here"]["jobs"] == had["jobs"]
        assert counts(shop) == had


def test_what_was_deleted_comes_back_and_the_rest_stays(api, small):
    bring(api.shop, small)
    job = api.shop.jobs.get(locked=None)
    delete_job(api.shop.members.get(owner=True), job.pk, job.version, timezone.now())
    report = bring(api.shop, small)
    assert report["brought"]["jobs"] == 1
    assert report["here"]["jobs"] == 1
    assert {job.name for job in api.shop.jobs.all()} == names_in(small)


def test_machines_of_the_same_name_are_one_only_if_they_are_alike(api, small):
    elsewhere = Api("palm house")
    elsewhere.machine.delete()
    bring(elsewhere.shop, small)
    first, second, *_ = elsewhere.shop.machines.order_by("pk")
    alike = {
        f.attname: getattr(first, f.attname) for f in Machine._meta.concrete_fields if f.name not in ("id", "workshop")
    }
    Machine.objects.create(workshop=api.shop, **alike)
    Machine.objects.create(workshop=api.shop, **(alike | {"name": second.name, "rated_w": second.rated_w + 3}))
    report = bring(api.shop, small)
    assert report["skipped"] == []
    assert report["here"]["machines"] == 1
    names = set(api.shop.machines.values_list("name", flat=True))
    assert {first.name, second.name, f"{second.name} (2)"} <= names
    assert api.shop.machines.get(name=f"{second.name} (2)").rated_w == second.rated_w


def holding(path, data):
    """An archive that has this in one of its files."""
    return lambda whole: changed(whole, lambda files: files.update({path: data}))


NOT_ONE = {
    "no ZIP": lambda data: b"PK no zip",
    "half of it": lambda data: data[: len(data) // 2],
    "no workshop.json": lambda data: changed(data, lambda f: f.pop("workshop.json")),
    "another format": holding("workshop.json", b'{"format": "seeds"}'),
    "a newer one": lambda data: changed(
        data, lambda f: f.update({"workshop.json": f["workshop.json"].replace(b'"version": 1,', b'"version": 2,', 1)})
    ),
    "NaN": holding("rows/machines.json", b'[{"id": 1, "rated_w": NaN}]'),
    "1e999": holding("rows/machines.json", b'[{"id": 1, "rated_w": 1e999}]'),
    "NUL": holding("rows/jobs.json", b'[{"id": 1, "name": "a\\u0000b"}]'),
    "no rows": holding("rows/jobs.json", b'{"id": 1}'),
    "no ids": holding("rows/jobs.json", b'[{"id": true}]'),
    "an id that no row can have": holding("rows/jobs.json", b'[{"id": 9223372036854775808}]'),
    "deep": holding("rows/jobs.json", b"[" * 200_000),
    "no owner": lambda data: changed(
        data, lambda f: f.update({"workshop.json": f["workshop.json"].replace(b'"uid"', b'"nobody"')})
    ),
    "56 kB of empty lists": lambda data: holding("rows/cells.json", b"[" + b"[]," * 19_000_000 + b"[]]")(data),
    "a long list of files": lambda data: data[:-12] + b"\xff\xff" + data[-10:],
    "a second list of files": lambda data: data[:-22] + b"PK\6\7" + bytes(16) + data[-22:],
    "vast": lambda data: holding("rows/cells.json", b" " * 61_000_000)(data),
}


@pytest.mark.parametrize("case", NOT_ONE)
def test_what_is_no_archive_is_refused_at_once(api, case):
    data = NOT_ONE[case](packed(api.shop))
    answer = api.client.post("/api/workshop.zip", {"file": SimpleUploadedFile("a.zip", data)})
    assert answer.status_code == 422, answer.content
    assert answer["Content-Type"] == "application/problem+json"
    assert answer.json()["field"] == "file"
    assert not BroughtArchive.objects.exists()


def test_it_is_read_by_a_worker_one_at_a_time_for_owners(api, small, monkeypatch):
    asked = []
    monkeypatch.setattr(archive_task, "defer", lambda **given: asked.append(given))

    def send(expect):
        answer = api.client.post("/api/workshop.zip", {"file": SimpleUploadedFile("garden.zip", small)})
        assert answer.status_code == expect, answer.content
        return answer.json()

    first = send(201)
    assert first["state"] == "queued"
    assert asked == [{"archive_id": first["id"]}]
    assert "under way" in send(409)["detail"] or "being read" in send(409)["detail"]
    stranger = Api("palm house")
    stranger.get(f"/brought-archives/{first['id']}", expect=404)
    assert stranger.get("/brought-archives") == []
    # Its task is lost: it is asked for again; lost while it is read, it ends and says so.
    later = timezone.now() + timedelta(minutes=6)
    assert mend_archives(later, archive_task.defer) == 1
    assert len(asked) == 2
    run_archive(first["id"])
    done = api.get(f"/brought-archives/{first['id']}")
    assert done["state"] == "done"
    assert done["report"]["brought"]["jobs"] == 2
    assert len(api.get("/brought-archives")) == 1
    api.shop.members.update(owner=False)
    assert "owner" in send(409)["detail"]


ODD = {
    "a name of a row that is not there": ("grids", lambda row: row.update(lot_id=987654)),
    "an absurd figure": ("jobs", lambda row: row.update(width_mm=9e6)),
    "no such coat": ("jobs", lambda row: row.update(coat="own-77")),
    "a cell twice": ("cells", lambda row: row.update(code="A1")),
    "an entry of no known process": ("days", lambda row: row.update(process="singe")),
    "a picture that is none": ("coat-photos", lambda row: row.update(original="README.txt")),
}


@pytest.mark.parametrize("case", ODD)
def test_a_job_with_something_odd_in_it_is_left_out_whole_and_named(api, small, case):
    kind, change = ODD[case]
    report = bring(api.shop, changed(small, rows_changed(kind, change)))
    assert report["skipped"]
    assert all(one["why"] and one["what"] for one in report["skipped"])
    lost = {one["what"] for one in report["skipped"] if one["what"].startswith("job ")}
    assert lost
    # Nothing of a job that was left out stays behind, and no page minds.
    left = {f"job {job['name']}" for job in api.get("/jobs")}
    assert left | lost == {f"job {name}" for name in names_in(small)}
    assert left.isdisjoint(lost)
    assert api.shop.jobs.count() == len(left)
    api.get("/logged-burns")


WEIRD = (
    None,
    True,
    -1,
    0,
    2**40,
    1e-308,
    1e300,
    -5.5,
    "",
    "x" * 400,
    "<b>",
    [],
    {},
    [[]],
    {"a": 1},
    "2026-01-01T00:00:00Z",
)


WORKSHOP_PAGES = (
    "/bench", "/jobs", "/logged-burns", "/setting-cards", "/machines", "/shelf", "/later-looks", "/logbook", "/jigs",
    "/eyewear", "/experiments", "/rates", "/scatter", "/room", "/catalogue",
)  # fmt: skip
JOB_PAGES = (
    "", "/window", "/coat", "/grids", "/cost", "/batches", "/artworks", "/placing", "/runs", "/run-sheet", "/jigs",
)  # fmt: skip


@pytest.mark.parametrize("seed", range(4))
def test_whatever_is_in_an_archive_every_page_of_what_was_brought_answers(api, whole, seed):
    """Nine figures at random, each made into something else, deep in JSON too: most jobs come, odd as they are."""
    rng = random.Random(seed)

    def act(files):
        names = [name for name in files if name.startswith("rows/") and len(files[name]) > 4]
        for _ in range(9):
            name = rng.choice(names)
            rows = json.loads(files[name])
            place, key = rng.choice(rows), None
            while True:
                key = rng.choice([*place] if isinstance(place, dict) else range(len(place)))
                if not isinstance(place[key], (dict, list)) or not place[key] or rng.random() < 0.3:
                    break
                place = place[key]
            if key == "id":
                continue
            place[key] = rng.choice(WEIRD)
            files[name] = json.dumps(rows).encode()

    opened = open_archive(io.BytesIO(changed(whole, act)), NAMES)
    report = bring_in(api.shop, opened, lambda: None)
    lost = [s for s in report.skipped if s["what"].startswith("job ")]
    assert report.brought["jobs"] + len(lost) == len(opened.rows["jobs"])
    assert report.brought["jobs"] > 0
    paths = [*WORKSHOP_PAGES]
    for job in Job.objects.filter(workshop=api.shop):
        paths += [f"/jobs/{job.pk}{end}" for end in JOB_PAGES]
    answers = {path: api.client.get(f"/api{path}").status_code for path in paths}
    assert {path: status for path, status in answers.items() if status not in (200, 409, 422)} == {}


NO_ROW = {
    "another kind of figure": {"width_mm": "wide"},
    "a figure that nothing has": {"width_mm": 1e300},
    "a state that is none": {"state": "eaten"},
    "too long": {"name": "x" * 500},
    "a control character": {"name": "a\x07b"},
    "true for a number": {"pieces": True},
    "a number that no column holds": {"pieces": 2**70},
    "no time": {"created_at": "yesterday"},
    "a time without a zone": {"created_at": "2026-05-01T10:00:00"},
    "a time long ago": {"created_at": "0001-01-01T00:00:00Z"},
    "nothing where something must be": {"name": None},
    "a row of another kind": {"machine_id": "first"},
    "somebody else's row": {"machine_id": 1},
}


@pytest.mark.parametrize("case", NO_ROW)
def test_a_figure_that_no_row_can_have_is_refused(api, case):
    api.job()
    opened = open_archive(io.BytesIO(packed(api.shop)), NAMES)
    kind = next(kind for kind in KINDS if kind.name == "jobs")
    (facts,) = opened.rows["jobs"]
    into = Into(api.shop)
    into.note(Machine, facts["machine_id"] + 5, api.machine.pk)
    ours = facts | {"machine_id": facts["machine_id"] + 5}
    made = make_row(kind, ours | {"workshop_id": 77}, opened, into)
    assert (made.workshop_id, made.machine_id, made.name) == (api.shop.pk, api.machine.pk, facts["name"])
    ((field, _),) = NO_ROW[case].items()
    with pytest.raises(BadValueError, match=field.removesuffix("_id")):
        make_row(kind, ours | NO_ROW[case], opened, into)
    with pytest.raises(BadValueError, match="missing"):
        make_row(kind, {name: value for name, value in ours.items() if name != "width_mm"}, opened, into)


def test_a_quote_comes_under_its_own_number_and_ours_go_on_after_it(api, small):
    bring(api.shop, small)
    (slip,) = MoneySlip.objects.filter(workshop=api.shop)
    job = slip.job
    assert slip.series != api.shop.uid
    (brought,) = api.get(f"/jobs/{job.pk}/cost")["slips"]
    written = api.post(f"/jobs/{job.pk}/slips", {"kind": "quote", "price": "4"}, expect=201)
    assert written["code"][:-1] == brought["code"][:-1]
    assert int(written["code"][-1]) == int(brought["code"][-1]) + 1
    kind = next(kind for kind in KINDS if kind.name == "slips")
    opened = open_archive(io.BytesIO(small), NAMES)
    (facts,) = opened.rows["slips"]
    into = Into(api.shop)
    into.note(Job, facts["job_id"], job.pk)
    assert make_row(kind, facts, opened, into).to_core() == slip.to_core()
    for name, wrong in (("year", 5), ("number", 0), ("told", {"seller": [1]}), ("told", {"good": "12"}),
                        ("told", {"price": "NaN"}), ("told", {"for_whom": None})):  # fmt: skip
        spoilt = facts | {name: facts[name] | wrong if name == "told" else wrong}
        with pytest.raises(BadValueError, match=name):
            make_row(kind, spoilt, opened, into)
