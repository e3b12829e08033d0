"""Who may come in, what a workshop may keep, what its owner and the admin are told."""

import io
import json
from datetime import timedelta

import pytest
from axes.models import AccessAttempt
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.db.models import F
from django.test import Client
from django.utils import timezone

from keencoat.shop.demo_account import DEMO_PASSWORD, DEMO_USER
from keencoat.shop.models import Machine, Membership, Workshop
from keencoat.shop.once import forget_deeds
from keencoat.site.guessing import MANY, PACE
from tests.apps.conftest import BLUE, Api


def load_demo_account():
    user = get_user_model().objects.create_user(DEMO_USER, password=DEMO_PASSWORD)
    Membership.objects.create(user=user, workshop=Workshop.objects.create(name="Demo"))


def test_the_demo_account_signs_in_on_a_demo_server_only(db, settings):
    load_demo_account()
    body = json.dumps({"user": DEMO_USER, "password": DEMO_PASSWORD})
    settings.DEMO = False
    assert Client().post("/api/session", body, "application/json").status_code == 422
    settings.DEMO = True
    assert Client().post("/api/session", body, "application/json").json()["signed_in"]


def test_sign_in_wants_our_own_page_and_waits_after_ten_wrong_passwords(api):
    body = json.dumps({"user": "fernery", "password": "quiet-greenhouse"})
    stranger = Client(enforce_csrf_checks=True)
    assert stranger.post("/api/session", body, "application/json").status_code == 403
    token = stranger.get("/api/session") and stranger.cookies["keencoat_csrf"].value
    good = stranger.post("/api/session", body, "application/json", headers={"X-CSRFToken": token})
    assert good.json()["signed_in"]
    codes = [tried("fernery", "wrong").status_code for _ in range(11)]
    assert codes[0] == 422
    assert codes[-1] == 429
    waits = tried("fernery", "quiet-greenhouse")
    assert waits.status_code == 429
    assert "15 minutes" in waits.json()["hint"]
    # Another address, another name: neither waits. Nor does the same name, once whoever runs the server says so.
    assert tried("fernery", "quiet-greenhouse", REMOTE_ADDR="192.0.2.7").status_code == 200
    Api("orangery")
    assert tried("orangery", "quiet-greenhouse").status_code == 200
    call_command("account", "fernery", unlock=True)
    assert tried("fernery", "quiet-greenhouse").status_code == 200


def tried(user, password, **extra):
    return Client().post("/api/session", json.dumps({"user": user, "password": password}), "application/json", **extra)


def test_an_address_that_guesses_is_slowed_down_and_lets_the_others_through(api):
    for number in range(MANY):
        assert tried(f"invented {number}", "wrong").status_code == 422
    slowed = tried("fernery", "quiet-greenhouse")
    assert (slowed.status_code, slowed["Retry-After"]) == (429, "2")
    assert "Try again" in slowed.json()["hint"]
    assert Client().post("/admin/login/", {"username": "fernery", "password": "wrong"}).status_code == 429
    assert tried("fernery", "quiet-greenhouse", REMOTE_ADDR="192.0.2.7").status_code == 200
    AccessAttempt.objects.update(attempt_time=F("attempt_time") - PACE)
    assert tried("fernery", "quiet-greenhouse").status_code == 200


def test_a_member_changes_the_password_and_the_command_makes_accounts(api, monkeypatch):
    assert api.put("/session/password", {"old": "wrong", "new": "moss-and-stone-9"}, expect=422)["field"] == "old"
    assert api.put("/session/password", {"old": "quiet-greenhouse", "new": "1234"}, expect=422)["field"] == "new"
    assert api.put("/session/password", {"old": "quiet-greenhouse", "new": "moss-and-stone-9"})["signed_in"]
    assert api.get("/session")["signed_in"]
    for name, word in (("anna", "fern-spiral-77"), ("ben", "fern-spiral-78"), ("anna", "fern-spiral-79")):
        monkeypatch.setattr("sys.stdin", io.StringIO(f"{word}\n"))
        call_command("account", name, "Moss house")
    assert list(
        Membership.objects.filter(workshop__name="Moss house").order_by("pk").values_list("user__username", "owner")
    ) == [
        ("anna", True),
        ("ben", False),
    ]
    body = {"user": "anna", "password": "fern-spiral-79"}
    assert Client().post("/api/session", json.dumps(body), "application/json").json()["workshop"] == "Moss house"
    for name, shop, word in (("anna", "Elsewhere", "fern-spiral-80"), ("cleo", "Moss house", "123")):
        monkeypatch.setattr("sys.stdin", io.StringIO(f"{word}\n"))
        with pytest.raises(CommandError):
            call_command("account", name, shop)
    assert not get_user_model().objects.filter(username="cleo").exists()


def test_a_workshop_keeps_what_it_may_and_its_owner_sees_how_much(api, monkeypatch):
    job = api.job()
    api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "even"}, expect=201)
    taken = api.get("/workshop/room-taken")
    assert (taken["jobs"], taken["photos"]) == (1, 1)
    assert 0.05 < taken["photo_mb"] < 10
    monkeypatch.setattr("keencoat.jobs.job.room_taken.MOST_PHOTO_MB", 0.01)
    full = api.post(f"/jobs/{job['id']}/coat/practice-shot", {"fault": "even"}, expect=409)
    assert "are the most" in full["detail"]
    monkeypatch.setattr("keencoat.jobs.job.room_taken.MOST_JOBS", 1)
    assert "1 jobs" in api.post("/jobs", api.job_body(name="One more"), expect=409)["detail"]
    api.shop.members.update(owner=False)
    assert "owner" in api.get("/workshop/room-taken", expect=409)["detail"]


def test_the_admin_counts_its_changes_and_refuses_what_cannot_be(api):
    admin = Client()
    admin.force_login(get_user_model().objects.create_superuser("head", password="quiet-greenhouse"))
    address = f"/admin/shop/machine/{api.machine.pk}/change/"
    facts = BLUE | {"workshop": api.shop.pk, "pulsing": "unknown"}
    assert admin.post(address, facts | {"rated_w": -3}).status_code == 200
    assert Machine.objects.get(pk=api.machine.pk).rated_w == BLUE["rated_w"]
    assert admin.post(address, facts | {"rated_w": 14}).status_code == 302
    assert Machine.objects.get(pk=api.machine.pk).version == 2
    assert "elsewhere" in api.put(f"/machines/{api.machine.pk}", BLUE | {"version": 1}, expect=409)["detail"]


def test_keys_are_forgotten_after_a_week(api):
    twice = [
        api.client.post("/api/jobs", json.dumps(api.job_body()), "application/json", headers={"Idempotency-Key": "k1"})
        for _ in range(2)
    ]
    assert len({answer.json()["id"] for answer in twice}) == 1
    assert forget_deeds(timezone.now() + timedelta(days=6)) == 0
    assert forget_deeds(timezone.now() + timedelta(days=8)) == 1
