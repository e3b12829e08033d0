import json
from concurrent.futures import Future
from types import SimpleNamespace
from uuid import uuid4

import pytest
from django.contrib.auth import get_user_model
from django.test import Client

from keencoat.shop.models import Machine, Membership, Workshop

BLUE = {
    "name": "Blue twelve", "source": "blue", "rated_w": 12, "spot_mm": 0.1, "min_speed_mm_s": 5, "max_speed_mm_s": 250,
    "min_power_pct": 2, "accel_mm_s2": 2500, "bed_x_mm": 400, "bed_y_mm": 400,
}  # fmt: skip


class OurClient(Client):
    """A browser of ours: every request carries a key of its own, unless it is given one."""

    def generic(self, *args, headers=None, **extra):
        return super().generic(*args, headers={"Idempotency-Key": uuid4().hex} | (headers or {}), **extra)


class Api:
    """A signed-in client that speaks JSON."""

    def __init__(self, name):
        self.shop = Workshop.objects.create(name=name)
        user = get_user_model().objects.create_user(name, password="quiet-greenhouse")
        Membership.objects.create(user=user, workshop=self.shop, owner=True)
        self.machine = Machine.objects.create(workshop=self.shop, **BLUE)
        self.client = OurClient()
        self.client.force_login(user)

    def call(self, method, path, body=None, expect=200):
        response = self.client.generic(method, f"/api{path}", *_json(body))
        assert response.status_code == expect, response.content.decode()[:600]
        if expect >= 400:
            assert response["Content-Type"] == "application/problem+json"
            assert response.json()["detail"]
        return response.json() if response.content and "json" in response["Content-Type"] else response

    def get(self, path, expect=200):
        return self.call("GET", path, expect=expect)

    def post(self, path, body=None, expect=200):
        return self.call("POST", path, body if body is not None else {}, expect)

    def put(self, path, body, expect=200):
        return self.call("PUT", path, body, expect)

    def job_body(self, **changes):
        body = {
            "name": "Cloche labels", "shape": "rectangle", "width_mm": 100, "height_mm": 80, "thickness_mm": 4,
            "margin_mm": 3, "pieces": 12, "spares": 2, "substrate": "soda_lime_glass", "process": "frost",
            "machine_id": self.machine.pk, "coat": "tempera_brushed", "coats": 2, "interval_mm": 0.1,
        }  # fmt: skip
        return body | changes

    def job(self, **changes):
        return self.post("/jobs", self.job_body(**changes), expect=201)

    def coated_job(self, **changes):
        job = self.job(**changes)
        for number in range(1, job["coats"] + 1):
            at = f"2026-01-05T{8 + number:02d}:00:00Z"
            self.post(f"/jobs/{job['id']}/coat/stamps", {"number": number, "at": at})
        return job

    def burned_grid(self, job, **wish):
        grid = self.post(f"/jobs/{job['id']}/grids", {"interval_mm": 0.1} | wish, expect=201)
        return self.post(f"/grids/{grid['id']}/burned")

    def lock(self, job, setting, expect=200, art="fills"):
        """Lock a setting as somebody does who has just read the window."""
        window = self.get(f"/jobs/{job['id']}/window")
        seen = {"version": window["job_version"], "evidence_mark": window["evidence_mark"]}
        wanted = {k: setting[k] for k in ("power_pct", "speed_mm_s", "interval_mm", "passes")}
        return self.post(f"/jobs/{job['id']}/window/lock", wanted | seen | {"art": art}, expect)

    def take(self, art, kind, piece=0):
        """A file of an artwork as somebody takes it who sees it now."""
        self.client.post(f"/api/artworks/{art['id']}/taken", {"version": art["version"]}, "application/json")
        return self.client.get(f"/api/artworks/{art['id']}/files/{kind}?piece={piece}")

    def rate(self, grid, rule):
        for cell in grid["cells"]:
            body = {"rating": rule(cell), "version": cell["version"]}
            grid = self.put(f"/grids/{grid['id']}/cells/{cell['code']}", body)
        return grid


def _json(body):
    return (json.dumps(body), "application/json") if body is not None else ("", "application/json")


def plain_words(program):
    """A program's comments as one text, wherever its lines were broken."""
    return program.replace(")\n(", " ")


def wedge(cell):
    """Ratings of an invented glass: clean from 1.0, harsh from 4 J/mm² at 1 ms, both growing with √dwell."""
    share = cell["energy_j_mm2"] / cell["dwell_ms"] ** 0.5
    return "faint" if share < 1.0 else "harsh" if share > 4 else "clean"


class AtOnce:
    """Works in the thread that asks: another one would not see what a test has not committed."""

    def submit(self, work, *given):
        done = Future()
        try:
            done.set_result(work(*given))
        except Exception as error:  # noqa: BLE001 # as a Future keeps it
            done.set_exception(error)
        return done


@pytest.fixture(autouse=True)
def beside(monkeypatch):
    monkeypatch.setattr("keencoat.shop.soon._worker", AtOnce())
    monkeypatch.setattr("keencoat.shop.soon.connections", SimpleNamespace(close_all=lambda: None))


@pytest.fixture(autouse=True)
def quick_passwords(settings):
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture(autouse=True)
def no_static_files(settings):
    """Else each client that is made begins by looking through all of them."""
    settings.WHITENOISE_AUTOREFRESH = True


@pytest.fixture
def api(db):
    return Api("fernery")


@pytest.fixture
def stranger(db):
    return Api("orangery")
