"""Two tabs at once, on a real database: one of them is told; and old rows come through the migrations."""

import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from functools import partial

import pytest
from django.db import OperationalError, connection, connections, transaction
from django.db.migrations.executor import MigrationExecutor

from keencoat.core.errors import NotAllowedError, StaleError
from keencoat.core.quantities.setting import Art, Setting
from keencoat.jobs.coat.services.choice import choose_coat
from keencoat.jobs.coat.services.putting_on import put_coat_on
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import CoatStamp, Job, LockedSetting
from keencoat.jobs.window.services.locking import evidence_mark, lock_setting
from keencoat.shop.aside import aside
from tests.apps.conftest import Api, wedge
from tests.apps.test_practice import burned, practised


def at_once(*calls):
    """Run the calls in threads of their own, started together; what each returned or raised."""
    gate = threading.Barrier(len(calls))
    out = [None] * len(calls)

    def run(place, call):
        gate.wait()
        try:
            out[place] = call()
        except (NotAllowedError, StaleError) as error:
            out[place] = error
        finally:
            connections.close_all()

    threads = [threading.Thread(target=run, args=pair) for pair in enumerate(calls)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return out


@pytest.mark.django_db(transaction=True)
def test_the_same_coat_is_stamped_once():
    api = Api("fernery")
    job = api.job()
    now = datetime.now(UTC)
    for number in (1, 2):
        done = at_once(*[partial(put_coat_on, api.shop, job["id"], number, now)] * 4)
        assert sum(isinstance(x, CoatStamp) for x in done) == 1
        assert sum(isinstance(x, NotAllowedError) for x in done) == 3
    assert CoatStamp.objects.filter(job_id=job["id"]).count() == 2


@pytest.mark.django_db(transaction=True)
def test_different_pieces_are_stamped_side_by_side():
    api = Api("fernery")
    job = api.job(pieces=8, spares=2)
    now = datetime.now(UTC)
    runs = [(1, 3), (4, 6), (7, 10)]
    done = at_once(*[partial(put_coat_on, api.shop, job["id"], 1, now, None, run) for run in runs])
    assert all(isinstance(x, CoatStamp) for x in done)
    assert api.get(f"/jobs/{job['id']}")["drying"]["coats_on"] == 1


@pytest.mark.django_db(transaction=True)
def test_two_tabs_cannot_both_change_or_lock_the_same_job():
    api = Api("fernery")
    job = api.coated_job()
    now = datetime.now(UTC)
    tries = [
        lambda n=n: choose_coat(api.shop, job["id"], 1, {"coat": "tempera_brushed", "coats": n}, now) for n in (2, 3)
    ]
    done = at_once(*tries)
    assert sorted(type(x) is StaleError for x in done) == [False, True]
    assert Job.objects.get(pk=job["id"]).version == 2
    coats = Job.objects.get(pk=job["id"]).coats
    for number in range(3, coats + 1):
        api.post(f"/jobs/{job['id']}/coat/stamps", {"number": number, "at": "2026-01-05T14:00:00Z"})
    api.rate(api.burned_grid(job), wedge)
    setting = Setting(60, 30, 0.1)
    seen = (2, evidence_mark(find_job(api.shop, job["id"])))
    locked = at_once(*[partial(lock_setting, api.shop, job["id"], setting, seen, now)] * 3)
    assert sum(isinstance(x, LockedSetting) for x in locked) == 1
    assert LockedSetting.objects.filter(job_id=job["id"]).count() == 1


@pytest.mark.django_db(transaction=True)
def test_jobs_from_before_tools_and_piece_numbers_come_through():
    executor = MigrationExecutor(connection)
    leaves = executor.loader.graph.leaf_nodes()
    try:
        executor.migrate([("jobs", "0002_locked_settings_stay"), ("shop", "0001_initial")])
        old = executor.loader.project_state([("jobs", "0002_locked_settings_stay"), ("shop", "0001_initial")]).apps
        shop = old.get_model("shop", "Workshop").objects.create(name="Old shed")
        machine = old.get_model("shop", "Machine").objects.create(
            workshop=shop,
            name="m",
            source="blue",
            rated_w=10,
            spot_mm=0.1,
            min_speed_mm_s=5,
            max_speed_mm_s=200,
            min_power_pct=2,
            accel_mm_s2=2000,
            bed_x_mm=400,
            bed_y_mm=400,
        )
        now = datetime(2026, 1, 5, 8, tzinfo=UTC)
        job = old.get_model("jobs", "Job").objects.create(
            workshop=shop,
            name="Old panes",
            shape="rectangle",
            width_mm=100,
            height_mm=80,
            thickness_mm=4,
            margin_mm=3,
            pieces=5,
            spares=2,
            substrate="soda_lime_glass",
            process="frost",
            machine=machine,
            coat="tempera_sprayed",
            coats=1,
            interval_mm=0.1,
            created_at=now,
            updated_at=now,
        )
        lot = old.get_model("jobs", "CoatLot").objects.create(job=job, code="1a", mixed_at=now)
        old.get_model("jobs", "CoatStamp").objects.create(job=job, lot=lot, number=1, at=now)
        read = {"energy_j_mm2": 2.1, "clean": {"low": 0.8, "mid": 0.95, "high": 0.99}}
        old.get_model("jobs", "LockedSetting").objects.create(
            job=job,
            version=1,
            at=now,
            power_pct=42,
            speed_mm_s=60,
            interval_mm=0.1,
            passes=2,
            newest_grid=1,
            evidence={"reading": read, "machine": {"name": "m"}},
        )
    finally:
        MigrationExecutor(connection).migrate(leaves)
    kept = Job.objects.get(name="Old panes")
    assert kept.tool == "gun"
    stamp = kept.stamps.get()
    assert (stamp.first, stamp.last) == (1, 7)
    for lock in (kept.locked.get(), LockedSetting.objects.in_short().get(job=kept)):
        assert lock.by_art() == {Art.FILLS: Setting(42, 60, 0.1, 2)}
        assert lock.reading() == read


def is_free(job_id):
    """Whether another connection may write to the job at this moment."""
    try:
        with transaction.atomic():
            return bool(Job.objects.select_for_update(nowait=True).get(pk=job_id))
    except OperationalError:
        return False
    finally:
        connection.close()


@pytest.mark.django_db(transaction=True)
def test_a_photo_is_read_before_the_jobs_turn_is_taken(monkeypatch):
    """Whoever rates meanwhile must not wait for it; and what was read belongs to the coat that is there in the end."""
    api, turns = Api("fernery"), []

    def seen(work, *given, meanwhile=lambda: None):
        with ThreadPoolExecutor(1) as other:
            turns.append(other.submit(is_free, Job.objects.latest("pk").pk).result())
        meanwhile()
        return aside(work, *given)

    monkeypatch.setattr("keencoat.jobs.coat.services.proof.aside", seen)
    monkeypatch.setattr("keencoat.jobs.reading.services.photos.aside", seen)
    job, grid = practised(api)
    burned(api, grid)
    api.post(f"/grids/{grid['id']}/practice/photo", {}, expect=201)
    shown = api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "even"}, expect=201)
    api.post(f"/coat/photos/{shown['id']}/measure", {"points": None, "version": 1})
    assert turns == [True] * 3

    def rechosen():
        Job.objects.filter(pk=job["id"]).update(margin_mm=9)

    monkeypatch.setattr("keencoat.jobs.coat.services.proof.aside", partial(seen, meanwhile=rechosen))
    told = api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "even"}, expect=409)
    assert "changed while" in told["detail"]
