"""What must not happen: foreign eyes, lost updates, crashes on bad input."""

import json
import re

import pytest
from django.core.management import call_command
from django.test import Client

from tests.apps.conftest import BLUE, OurClient


def test_no_account_reads_another_workshops_data(api, stranger):
    job = api.coated_job()
    grid = api.burned_grid(job)
    code = grid["cells"][0]["code"]
    setting = {"power_pct": 50, "speed_mm_s": 50, "interval_mm": 0.1, "passes": 1}
    base = f"/jobs/{job['id']}"
    for method, path, body in (
        ("GET", base, None),
        ("PUT", base, stranger.job_body(version=1)),
        ("GET", f"{base}/coat", None),
        ("POST", f"{base}/coat/lots", {}),
        ("POST", f"{base}/coat/stamps", {"number": 1}),
        ("DELETE", f"{base}/coat/stamps/2", None),
        ("POST", f"{base}/coat/stamps/2/looks", {"dry": True}),
        ("GET", f"{base}/coat/offers", None),
        ("POST", f"{base}/coat/choice", {"version": 1, "coat": "chalk", "coats": 1}),
        ("GET", f"{base}/coat/proof", None),
        ("GET", f"{base}/coat/lots/1/label.pdf", None),
        ("POST", f"{base}/coat/practice-shot", {"fault": "even"}),
        ("POST", f"{base}/coat/holdups", {"coats": 1, "bare": 9, "coated": 1}),
        ("GET", "/coat/photos/1/original", None),
        ("POST", "/coat/photos/1/measure", {"version": 1}),
        ("DELETE", "/coat/photos/1", None),
        ("DELETE", "/shelf/coats/1", None),
        ("GET", "/experiments/1", None),
        ("POST", f"{base}/grids/again", {}),
        ("GET", f"{base}/grids", None),
        ("POST", f"{base}/grids/draft", {"interval_mm": 0.1}),
        ("POST", f"{base}/grids", {"interval_mm": 0.1}),
        ("POST", f"/grids/{grid['id']}/burned", {}),
        ("GET", f"/grids/{grid['id']}/files/csv", None),
        ("PUT", f"/grids/{grid['id']}/cells/{code}", {"rating": "clean", "version": 1}),
        ("POST", f"/grids/{grid['id']}/undo", {"rating_event": 0}),
        ("PUT", f"{base}/put-away", {"away": True, "version": 1}),
        ("DELETE", f"{base}?version=1", None),
        ("GET", f"/grids/{grid['id']}/reading", None),
        ("POST", f"/grids/{grid['id']}/proposals", {}),
        ("GET", f"/grids/{grid['id']}/measurements/csv", None),
        ("POST", f"/grids/{grid['id']}/burns", {}),
        ("POST", f"/grids/{grid['id']}/practice/photo", {}),
        ("GET", "/burns/1", None),
        ("POST", "/burns/1/stop", {}),
        ("GET", "/grid-photos/1/original", None),
        ("PUT", "/grid-photos/1/corners", {"version": 1}),
        ("DELETE", "/grid-photos/1", None),
        ("POST", f"{base}/practice/coat", {"coating": "even"}),
        ("POST", f"{base}/practice/batch", {}),
        ("GET", f"{base}/window", None),
        ("POST", f"{base}/window/point", setting),
        ("POST", f"{base}/window/lock", setting | {"version": 1, "evidence_mark": "0"}),
        ("GET", f"{base}/run-sheet", None),
        ("GET", f"{base}/run-sheet.pdf", None),
        ("PUT", f"/machines/{api.machine.pk}", BLUE | {"version": 1}),
        ("POST", "/jobs", stranger.job_body(machine_id=api.machine.pk)),
    ):
        problem = stranger.call(method, path, body, expect=404)
        assert problem["type"] == "/problems/missing", path
    assert stranger.get("/jobs") == []
    assert stranger.get("/bench")["jobs"] == []
    assert stranger.get("/logbook")["total"] == 0


def test_every_address_but_the_session_wants_a_sign_in(db):
    schema = Client().get("/api/openapi.json").json()
    assert len(schema["paths"]) > 20
    for path, methods in schema["paths"].items():
        for method in methods:
            if path == "/api/plan" or (path == "/api/session" and method != "delete"):
                continue
            address = re.sub(r"\{\w+_id\}", "1", path).replace("{code}", "A1").replace("{picture}", "bare")
            response = Client().generic(method.upper(), address)
            assert response.status_code == 401, (method, path, response.content)


def test_writes_need_the_csrf_token(api):
    strict = OurClient(enforce_csrf_checks=True)
    strict.cookies = api.client.cookies
    response = strict.post("/api/jobs", json.dumps(api.job_body()), content_type="application/json")
    assert response.status_code == 403


def test_the_second_of_two_tabs_is_told(api):
    job = api.coated_job()
    api.put(f"/jobs/{job['id']}", api.job_body(version=1, name="From tab one"))
    late = api.put(f"/jobs/{job['id']}", api.job_body(version=1, name="From tab two"), expect=409)
    assert "changed elsewhere" in late["detail"]
    assert api.get(f"/jobs/{job['id']}")["name"] == "From tab one"

    grid = api.burned_grid(job)
    api.put(f"/grids/{grid['id']}/cells/A1", {"rating": "clean", "version": 1})
    api.put(f"/grids/{grid['id']}/cells/A1", {"rating": "faint", "version": 1}, expect=409)
    api.put(f"/grids/{grid['id']}/cells/A2", {"rating": "faint", "version": 1})
    api.post(f"/jobs/{job['id']}/coat/stamps", {"number": 2}, expect=409)
    api.put(f"/machines/{api.machine.pk}", BLUE | {"version": 1, "rated_w": 11})
    api.put(f"/machines/{api.machine.pk}", BLUE | {"version": 1, "rated_w": 10}, expect=409)


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"width_mm": 0}, "width_mm"),
        ({"height_mm": -20}, "height_mm"),
        ({"thickness_mm": float("nan")}, "thickness_mm"),
        ({"width_mm": float("inf")}, "width_mm"),
        ({"margin_mm": 60}, "margin_mm"),
        ({"pieces": 0}, "pieces"),
        ({"pieces": 10**30}, "pieces"),
        ({"spares": -1}, "spares"),
        ({"spare_worth": -0.5}, "spare_worth"),
        ({"interval_mm": 0}, "interval_mm"),
        ({"substrate": "pvc"}, "substrate"),
        ({"substrate": "unknown_plastic"}, "substrate"),
        ({"substrate": "moonrock"}, "substrate"),
        ({"process": "fuse"}, "process"),
        ({"coat": "layout_dye_blue"}, "coat"),
        ({"name": "   "}, "name"),
        ({"name": "a\u0000b"}, "name"),
        ({"machine_id": 2**62}, ""),
        ({"machine_id": 2**80}, ""),
        ({"shape": "blob"}, "shape"),
        ({"width_mm": "wide"}, "width_mm"),
        ({"shape": "disc"}, "height_mm"),
    ],
)
def test_bad_jobs_name_the_field(api, changes, field):
    expect = 404 if "machine_id" in changes else 422
    problem = api.post("/jobs", api.job_body(**changes), expect=expect)
    assert problem["field"] == field
    assert problem["hint"]


@pytest.mark.parametrize(
    ("wish", "field"),
    [
        ({"cell_mm": 30}, "cell_mm"),
        ({"cell_mm": -1}, "cell_mm"),
        ({"cells": 13}, "cells"),
        ({"interval_mm": 0}, "interval_mm"),
        ({"interval_mm": float("nan")}, "interval_mm"),
        ({"passes": 0}, "passes"),
        ({"passes": 51}, "passes"),
        ({"kind": "round"}, "kind"),
        ({"cells": "many"}, "cells"),
    ],
)
def test_bad_grids_name_the_field(api, wish, field):
    job = api.job()
    for path in ("grids/draft", "grids"):
        assert api.post(f"/jobs/{job['id']}/{path}", {"interval_mm": 0.1} | wish, expect=422)["field"] == field


@pytest.mark.parametrize(
    ("setting", "field"),
    [
        ({"power_pct": 101}, "power_pct"),
        ({"power_pct": 0}, "power_pct"),
        ({"speed_mm_s": 251}, "speed_mm_s"),
        ({"speed_mm_s": -1}, "speed_mm_s"),
        ({"interval_mm": float("inf")}, "interval_mm"),
    ],
)
def test_settings_out_of_reach(api, setting, field):
    job = api.job()
    body = {"power_pct": 50, "speed_mm_s": 50, "interval_mm": 0.1, "passes": 1} | setting
    assert api.post(f"/jobs/{job['id']}/window/point", body, expect=422)["field"] == field
    assert api.get(f"/jobs/{job['id']}/window?interval_mm=-1", expect=422)["field"] == "interval_mm"


def test_steps_out_of_turn_are_refused(api):
    job = api.job()
    base = f"/jobs/{job['id']}"
    setting = {"power_pct": 50, "speed_mm_s": 50, "interval_mm": 0.1, "passes": 1}
    assert "rated grid" in api.lock(job, setting, expect=409)["detail"]
    api.get(f"{base}/run-sheet", expect=409)
    api.post(f"{base}/coat/stamps", {"number": 2}, expect=409)
    assert api.post(f"{base}/coat/stamps", {"number": 1, "at": "2100-01-01T00:00:00Z"}, expect=422)["field"] == "at"
    grid = api.post(f"{base}/grids", {"interval_mm": 0.1}, expect=201)
    assert "coat 1 of 2 is not on" in api.post(f"/grids/{grid['id']}/burned", expect=409)["detail"]
    api.post(f"{base}/coat/stamps", {"number": 1, "at": "2026-01-05T08:00:00Z"})
    api.post(f"{base}/coat/stamps", {"number": 2})
    assert "not dry" in api.post(f"/grids/{grid['id']}/burned", expect=409)["detail"]
    api.put(f"/grids/{grid['id']}/cells/A1", {"rating": "clean", "version": 1}, expect=409)


def test_what_a_burned_grid_rests_on_stays(api):
    job = api.coated_job()
    grid = api.burned_grid(job)
    body = api.job_body(version=1, coat="matt_black_spray")
    assert api.put(f"/jobs/{job['id']}", body, expect=409)["field"] == "coat"
    assert api.put(f"/jobs/{job['id']}", api.job_body(version=1, pieces=30))["pieces"] == 30
    assert api.post(f"/jobs/{job['id']}/grids", {"interval_mm": 0.1}, expect=409)["hint"]
    body = {"rating": "clean", "defects": ["brown"], "version": 1}
    assert api.put(f"/grids/{grid['id']}/cells/A1", body, expect=422)["field"] == "defects"
    api.put(f"/grids/{grid['id']}/cells/Z9", {"rating": "clean", "version": 1}, expect=404)


def test_choices_say_why_and_what_helps(api):
    bare = api.post("/choices", {"machine_id": api.machine.pk, "substrate": "clear_acrylic", "process": "back_engrave"})
    assert bare["findings"][0]["code"] == "needs-coat"
    assert bare["coats"][0]["key"] == "tempera_thin"
    assert not bare["forbidden"]
    refused = api.post("/choices", {"machine_id": api.machine.pk, "substrate": "pvc"})
    assert refused["forbidden"]
    assert "chlor" in refused["findings"][0]["message"]


def test_bad_machines_and_units(api):
    assert api.post("/machines", BLUE | {"name": "x", "rated_w": 0}, expect=422)["field"] == "rated_w"
    assert api.post("/machines", BLUE | {"name": "x", "source": "green"}, expect=422)["field"] == "source"
    assert api.post("/machines", BLUE, expect=422)["field"] == "name"
    units = {"speed_unit": "mm", "interval_unit": "mm", "version": 1}
    assert api.put("/session/units", units, expect=422)["field"] == "speed_unit"
    shares = {"coat_cv": 2, "power_cv": 0, "focus_cv": 0, "wanted_share": 0.95}
    assert api.put("/scatter", shares, expect=422)["field"] == "coat_cv"
    assert api.put("/scatter", shares | {"coat_cv": 0.2})["coat_cv"] == 0.2


def test_junk_is_a_problem_never_a_crash(api):
    for path in ("/jobs/0", "/jobs/99999999999999999999999", "/grids/7/files/csv", "/nothing/here"):
        assert api.client.get(f"/api{path}").status_code in (404, 422), path
    response = api.client.post("/api/jobs", "{not json", content_type="application/json")
    assert response.status_code == 400
    response = api.client.post("/api/jobs", '{"name": "' + "x" * 10_000_000 + '"}', content_type="application/json")
    assert response.status_code in (413, 422)
    assert api.client.get("/api/logbook?words=%00").status_code == 422
    wrong = {"user": "fernery\0", "password": "no"}
    assert Client().post("/api/session", wrong, content_type="application/json").json()["field"] == "user"


def test_pages_carry_safe_headers_and_docs_are_local(api, settings):
    page = Client().get("/jobs/1")
    assert page["X-Frame-Options"] == "DENY"
    assert "default-src 'self'" in page["Content-Security-Policy"]
    docs = Client().get("/api/docs")
    assert docs.status_code == 200
    assert b"cdn" not in docs.content.lower()
    assert b'src="/static/' in docs.content


def test_deploy_checks_pass_under_production_settings(monkeypatch, settings):
    settings.SECURE_SSL_REDIRECT = settings.SESSION_COOKIE_SECURE = settings.CSRF_COOKIE_SECURE = True
    settings.SECURE_HSTS_SECONDS, settings.SECURE_HSTS_INCLUDE_SUBDOMAINS = 31_536_000, True
    settings.SECURE_HSTS_PRELOAD, settings.SECRET_KEY = True, "k3" * 20 + "-a-long-random-looking-key"
    call_command("check", deploy=True, fail_level="WARNING")
