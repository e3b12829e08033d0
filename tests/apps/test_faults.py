"""Writes that meet other writes, figures that nothing has, evidence that somebody would rewrite."""

import io
import json
from concurrent.futures import ThreadPoolExecutor

import pytest
from django.db import DatabaseError, OperationalError, connection, transaction
from django.test import Client
from PIL import Image

from keencoat.jobs.coat.services.putting_on import lot_letters
from keencoat.jobs.models import Job, LockedSetting, Practice, RunRecord, TestGrid
from keencoat.logbook.models import LogEntry
from keencoat.shop.models import Membership, Workshop
from tests.apps.conftest import Api, wedge

SETTING = {"power_pct": 60, "speed_mm_s": 30, "interval_mm": 0.1, "passes": 1}


def test_a_practice_job_carried_over_is_a_practice_job(api):
    job = api.post("/practice", {"scenario": "cloche", "hidden": True}, expect=201)
    api.post(f"/jobs/{job['id']}/practice/coat", {"coating": "thick"})
    grid = api.burned_grid(job)
    api.rate(grid, wedge)
    bench = Workshop.objects.get(practice_of=api.shop)
    wish = {"machine_id": bench.machines.get(source="blue").pk, "interval_mm": 0.08}
    carried = api.post(f"/jobs/{job['id']}/window/carry/job", wish, expect=201)
    assert carried["practice"]["hidden"]
    known, copy = (Job.objects.get(pk=j["id"]).practice for j in (job, carried))
    assert (copy.seed, copy.film_share) == (known.seed, known.film_share)
    # One that lost its row is passed over; the page still comes.
    copy.delete()
    assert [j["id"] for j in api.get("/practice")["jobs"]] == [job["id"]]


def test_a_job_is_put_away_taken_back_and_deleted_by_an_owner_only(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    path, version = f"/jobs/{job['id']}", api.get(f"/jobs/{job['id']}")["version"]
    api.put(f"{path}/put-away", {"away": True, "version": version - 1}, expect=409)
    api.put(f"{path}/put-away", {"away": True, "version": version}, expect=204)
    assert api.get(path)["put_away"]
    assert (api.get("/jobs"), api.get("/bench")["jobs"]) == ([], [])
    assert [j["id"] for j in api.get("/jobs?put_away=true")] == [job["id"]]
    lines = LogEntry.objects.filter(job_id=job["id"]).count()
    Membership.objects.update(owner=False)
    assert "owner" in api.call("DELETE", f"{path}?version={version + 1}", expect=409)["detail"]
    Membership.objects.update(owner=True)
    api.call("DELETE", f"{path}?version={version}", expect=409)
    api.call("DELETE", f"{path}?version={version + 1}", expect=204)
    api.get(path, expect=404)
    assert not LockedSetting.objects.exists()
    assert LogEntry.objects.filter(job_id=job["id"]).count() == lines + 1
    assert "deleted" in api.get("/logbook")["entries"][0]["text"]


def test_a_job_that_another_rests_on_stays(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    wish = {"machine_id": api.machine.pk, "interval_mm": 0.08}
    heir = api.post(f"/jobs/{job['id']}/window/carry/job", wish, expect=201)
    assert heir["name"] in api.call("DELETE", f"/jobs/{job['id']}?version={job['version']}", expect=409)["detail"]


@pytest.mark.parametrize("state", ["burned", "rated"])
def test_what_a_grid_was_burned_with_is_never_overwritten(api, state):
    grid = api.burned_grid(api.coated_job())
    if state == "rated":
        api.rate(grid, wedge)
    before = TestGrid.objects.values("burned_at", "lot", "state").get(pk=grid["id"])
    assert state in api.post(f"/grids/{grid['id']}/burned", expect=409)["detail"]
    assert TestGrid.objects.values("burned_at", "lot", "state").get(pk=grid["id"]) == before


@pytest.mark.parametrize("table", ["logbook_logentry", "jobs_lockedsetting"])
@pytest.mark.parametrize("how", ["TRUNCATE {} CASCADE", "DELETE FROM {}", "UPDATE {} SET at = now()"])
def test_the_database_itself_keeps_the_evidence(api, table, how):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        cursor.execute("SET LOCAL keencoat.test_database = 'off'")
        with pytest.raises(DatabaseError, match="is never"), transaction.atomic():
            cursor.execute(how.format(table))
        # Being let delete one job lets nobody delete another's settings.
        cursor.execute("SELECT set_config('keencoat.deleting_job', '0', true)")
        with pytest.raises(DatabaseError, match="is never"), transaction.atomic():
            cursor.execute(f"DELETE FROM {table}")


def test_no_label_is_given_twice_and_a_grid_drawn_elsewhere_is_not_replaced(api):
    job = api.coated_job()
    path, wish = f"/jobs/{job['id']}/grids", {"interval_mm": 0.1}
    first = api.post(path, wish, expect=201)
    assert first["label"] in api.post(path, wish, expect=409)["detail"]
    second = api.post(path, wish | {"replaces": first["id"]}, expect=201)
    assert (first["label"], second["label"]) == ("G-01", "G-02")
    assert first["label"] != second["label"]
    assert [g["id"] for g in api.get(path)] == [second["id"]]
    api.get(f"/grids/{first['id']}/files/gcode", expect=404)


def test_a_run_belongs_to_the_setting_it_was_counted_at(api):
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    api.lock(job, SETTING | {"speed_mm_s": 40})
    stale = api.post(f"/jobs/{job['id']}/runs", {"clean": 5, "lock_version": 1}, expect=409)
    assert "Version 2 was locked" in stale["detail"]
    assert api.post(f"/jobs/{job['id']}/runs", {"clean": 5, "lock_version": 2}, expect=201)[0]["speed_mm_s"] == 40


def keyed(api, path, body, key):
    return api.client.post(f"/api{path}", json.dumps(body), "application/json", headers={"Idempotency-Key": key})


@pytest.mark.django_db(transaction=True)
def test_what_is_sent_twice_is_done_once():
    api = Api("fernery")
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    lots = Job.objects.get(pk=job["id"]).lots.count()
    asked = [
        (f"/jobs/{job['id']}/runs", {"clean": 5, "lock_version": 1}),
        (f"/jobs/{job['id']}/coat/lots", {"note": "sieved"}),
        ("/jobs", api.job_body(name="Fern labels")),
    ]
    for number, (path, body) in enumerate(asked):

        def send(_, path=path, body=body, number=number):
            connection.close()
            return keyed(api, path, body, f"key-{number}").status_code

        with ThreadPoolExecutor(4) as pool:
            assert {code // 100 for code in pool.map(send, range(4))} == {2}
    assert RunRecord.objects.count() == 1
    assert Job.objects.get(pk=job["id"]).lots.count() == lots + 1
    assert Job.objects.filter(name="Fern labels").count() == 1
    assert keyed(api, *asked[1], "key-0").status_code == 409
    assert keyed(api, *asked[0], "k" * 65).status_code == 422


def test_undo_and_import_do_not_take_back_what_somebody_else_rated(api):
    job = api.coated_job()
    grid = api.burned_grid(job)
    mine = api.put(f"/grids/{grid['id']}/cells/A1", {"rating": "clean", "version": 1})
    theirs = api.put(f"/grids/{grid['id']}/cells/A2", {"rating": "harsh", "version": 1})
    stale = api.post(f"/grids/{grid['id']}/undo", {"rating_event": mine["rating_event"]}, expect=409)
    assert "A2" in stale["detail"]
    file = io.BytesIO(b"code,rating\nA1,faint\nA2,faint\n")
    file.name = "rated.csv"
    sent = api.client.post(f"/api/grids/{grid['id']}/ratings", {"file": file, "rating_event": mine["rating_event"]})
    assert (sent.status_code, sent.json()["type"]) == (409, "/problems/stale")
    undone = api.post(f"/grids/{grid['id']}/undo", {"rating_event": theirs["rating_event"]})
    assert {c["code"]: c["rating"] for c in undone["cells"] if c["rating"]} == {"A1": "clean"}


def test_a_lock_on_odds_that_have_moved_is_refused(api):
    job = api.coated_job()
    grid = api.rate(api.burned_grid(job), wedge)
    window = api.get(f"/jobs/{job['id']}/window")
    seen = {"version": window["job_version"], "evidence_mark": window["evidence_mark"]}
    cell = grid["cells"][0]
    api.put(f"/grids/{grid['id']}/cells/{cell['code']}", {"rating": "harsh", "version": cell["version"]})
    stale = api.post(f"/jobs/{job['id']}/window/lock", SETTING | seen, expect=409)
    assert "changed since" in stale["detail"]
    api.lock(job, SETTING)
    second = api.get(f"/jobs/{job['id']}/window")["evidence_mark"]
    api.post(f"/jobs/{job['id']}/runs", {"clean": 5, "lock_version": 1}, expect=201)
    assert api.get(f"/jobs/{job['id']}/window")["evidence_mark"] != second


def test_scatter_carries_a_version_and_leaves_the_shelf_alone(api):
    now = api.get("/scatter")
    Workshop.objects.filter(pk=api.shop.pk).update(currency="CHF")
    changed = api.put("/scatter", now | {"coat_cv": 0.2})
    assert changed["version"] == now["version"] + 1
    assert Workshop.objects.get(pk=api.shop.pk).currency == "CHF"
    assert api.put("/scatter", now | {"coat_cv": 0.3}, expect=409)["field"] == "version"


@pytest.mark.parametrize("figure", ["1e999", "-1e999", "NaN", "1e308", "5e-324", "-Infinity"])
@pytest.mark.parametrize("field", ["narrow_mm", "width_mm", "interval_mm", "film_um"])
def test_figures_that_nothing_has_are_refused_where_they_stand(api, field, figure):
    text = json.dumps(api.job_body() | {field: "@"}).replace('"@"', figure)
    response = api.client.post("/api/jobs", text, "application/json")
    assert response.status_code in (400, 422)
    assert response["Content-Type"] == "application/problem+json"
    assert api.get("/jobs") == []


@pytest.mark.parametrize("text", ["a\0b", "a\x07b", "a\ud800b"])
def test_text_that_cannot_be_stored_is_refused(api, text):
    assert api.post("/jobs", api.job_body(name=text), expect=422)["field"] == "name"
    job = api.coated_job()
    api.rate(api.burned_grid(job), wedge)
    api.lock(job, SETTING)
    run = {"clean": 1, "lock_version": 1, "note": text}
    assert api.post(f"/jobs/{job['id']}/runs", run, expect=422)["field"] == "note"


@pytest.mark.parametrize(("path", "body"), [
    ("/jobs/{job}/grids/draft", {"interval_mm": 0}), ("/jobs/{job}/grids/draft", {"interval_mm": 0.1, "passes": 0}),
    ("/jobs/{job}/grids/draft", {"interval_mm": 0.1, "cells": -5}), ("/grids/{grid}/burns", {"pace": 1e300}),
    ("/grids/{grid}/burns", {"pace": 50}), ("/plan", {"coat": {"nominal_um": 5e-324}}),
    ("/machines/{machine}/line-tests", {"speed_mm_s": 1e308, "process": "frost", "coat": "tempera_brushed",
                                        "lines": [{"power_pct": p, "width_mm": 0.1} for p in (10, 20, 40, 80)]}),
    ("/machines/{machine}/focus-ladders", {"rungs": [{"height_mm": h, "width_mm": 5e-324} for h in range(5)]}),
])  # fmt: skip
def test_what_broke_the_server_before_is_a_problem_now(api, path, body):
    job = api.coated_job()
    grid = api.rate(api.burned_grid(job), wedge)
    address = path.format(job=job["id"], grid=grid["id"], machine=api.machine.pk)
    response = api.client.post(f"/api{address}", json.dumps(body), "application/json")
    assert 400 <= response.status_code < 500
    assert response["Content-Type"] == "application/problem+json"


def test_lots_go_on_after_z():
    assert [lot_letters(n) for n in (0, 25, 26, 51, 52, 701, 702)] == ["a", "z", "aa", "az", "ba", "zz", "aaa"]


def test_a_28th_lot_and_a_long_name(api):
    job = api.job()
    for _ in range(28):
        plan = api.post(f"/jobs/{job['id']}/coat/lots", {"note": ""})
    assert plan["lots"][-1]["code"].endswith("ab")
    body = {"name": "n" * 41, "like_job": job["id"], "arms": [{"coat": "tempera_brushed", "coats": n} for n in (1, 2)]}
    assert api.post("/experiments", body, expect=422)["field"] == "name"


def test_a_two_picture_jpeg_is_kept_and_served(api):
    grid = api.burned_grid(api.coated_job())
    out, pictures = io.BytesIO(), [Image.new("RGB", (800, 600), (90, 90, 90)) for _ in range(2)]
    pictures[0].save(out, "MPO", save_all=True, append_images=pictures[1:])
    out.name = "phone.jpg"
    out.seek(0)
    kept = api.client.post(f"/api/grids/{grid['id']}/photos", {"photo": out})
    assert kept.status_code == 201
    served = api.client.get(f"/api/grid-photos/{kept.json()['photos'][0]['id']}/original")
    assert served["Content-Type"] == "image/jpeg"


def test_a_table_with_two_cells_in_one_place_is_refused(api):
    rows = b"code,power_pct,speed_mm_s,x_mm,y_mm\nA1,20,50,0,0\nA2,40,50,0,0\nB1,40,50,9,9\n"
    file = io.BytesIO(rows)
    file.name = "grid.csv"
    response = api.client.post(f"/api/jobs/{api.coated_job()['id']}/grids/brought", {"file": file})
    assert response.status_code == 422
    assert "A1 and A2" in response.json()["detail"]


@pytest.mark.parametrize(("error", "status"), [(OperationalError("gone"), 503), (RuntimeError("a slip of ours"), 500)])
def test_a_crash_is_a_problem_with_a_number_in_the_log(api, monkeypatch, caplog, error, status):
    def crash(*_):
        raise error

    monkeypatch.setattr("keencoat.jobs.job.api.show_jobs", crash)
    problem = api.get("/jobs", expect=status)
    if status == 503:
        assert int(api.client.get("/api/jobs")["Retry-After"]) > 0
    else:
        number = problem["instance"].removeprefix("/problems/")
        assert number in problem["detail"]
        assert number in caplog.text
        assert "a slip of ours" in caplog.text
        assert "a slip of ours" not in json.dumps(problem)


@pytest.mark.parametrize("path", ["/api/session", "/api/jobs", "/api/jobs/1/grids/brought"])
def test_a_missing_token_a_torn_form_and_a_wrong_method_are_problems(db, path):
    client = Client(enforce_csrf_checks=True, raise_request_exception=False)
    torn = client.post(path, b"--x\r\nContent-Disposition: form-data", "multipart/form-data; boundary=x")
    for response in (torn, client.patch(path), client.post(path, "{}", "application/json")):
        assert 400 <= response.status_code < 500
        assert response["Content-Type"] == "application/problem+json"


@pytest.mark.parametrize(("cells", "rounds"), [(241, 10), (60, 41)])
def test_the_open_door_takes_no_more_than_it_can_answer(db, cells, rounds):
    machine = {"source": "blue", "rated_w": 20, "spot_mm": 0.09, "max_speed_mm_s": 300, "min_speed_mm_s": 4,
               "min_power_pct": 2}  # fmt: skip
    cell = {"power_pct": 50, "speed_mm_s": 90, "interval_mm": 0.1, "rating": "clean"}
    body = {"machine": machine, "interval_mm": 0.1, "history": [cell | {"round": n % rounds} for n in range(cells)]}
    response = Client().post("/api/plan", json.dumps(body), "application/json")
    assert (response.status_code, response.json()["field"]) == (422, "history")


@pytest.mark.parametrize(("path", "first", "second"), [
    ("/session/units", {"speed_unit": "mm_min", "interval_unit": "mm", "version": 1}, {"interval_unit": "lines_cm"}),
    ("/shelf/prices", {"ingredient": "tio2", "pack_ml": 600, "amount": 9, "version": 0}, {"amount": 12}),
    ("/shelf", {"currency": "€", "wanted_density": 2, "version": 1}, {"wanted_density": 3}),
    ("/room/sensor", {"on": True, "was": False}, {}),
])  # fmt: skip
def test_the_second_to_replace_something_is_told_and_nothing_is_overwritten(api, path, first, second):
    done = api.put(path, first)
    told = api.put(path, first | second, expect=409)
    assert "elsewhere" in told["detail"]
    again = first | second | {"version": first["version"] + 1} if "version" in first else {"on": False, "was": True}
    assert api.put(path, again) != done


def test_what_the_practice_bench_does_not_know_is_told_of(api):
    job = api.post("/practice", {"scenario": "cloche"}, expect=201)
    Practice.objects.filter(job=job["id"]).delete()
    page = api.get("/practice")
    assert (page["jobs"], page["odd"]) == ([], [job["name"]])
