"""A whole workshop in one file: nothing of it left out, nothing of another's in it."""

import csv
import io
import json
from zipfile import ZipFile

from django.apps import apps
from django.db.models import BinaryField, ForeignKey
from django.db.models.fields.related import ManyToManyField
from django.utils import timezone

from keencoat.core.exchange import read_cards
from keencoat.jobs.archive.kinds import KINDS, LEFT_BEHIND
from keencoat.jobs.demo import load_demo
from keencoat.shop.models import Workshop
from tests.apps.conftest import Api
from tests.apps.test_isolation import rows_of


def archive_of(client):
    answer = client.get("/api/workshop.zip")
    assert answer.status_code == 200
    return ZipFile(io.BytesIO(b"".join(answer.streaming_content)))


def test_every_kind_of_row_is_packed_or_left_behind_with_a_reason():
    ours = {m for m in apps.get_models() if m.__module__.startswith("keencoat")}
    packed = [kind.model for kind in KINDS]
    assert len(set(packed)) == len(packed)
    assert set(packed) | set(LEFT_BEHIND) == ours
    assert not set(packed) & set(LEFT_BEHIND)
    # What a row points to stands before it, or is left behind, or is a row of its own kind.
    for number, kind in enumerate(KINDS):
        for field in kind.model._meta.concrete_fields:
            assert not isinstance(field, ManyToManyField)
            if isinstance(field, ForeignKey):
                before = {*packed[: number + 1], *LEFT_BEHIND}
                assert field.related_model in before, (kind.name, field.name)


def test_a_workshop_is_packed_whole(client, django_user_model, db):
    load_demo(timezone.now())
    shop = Workshop.objects.get(name="Garden workshop")
    client.force_login(django_user_model.objects.get(membership__workshop=shop))
    other = Api("orangery")
    other.burned_grid(other.coated_job())
    packed = archive_of(client)
    assert packed.testzip() is None
    names = set(packed.namelist())
    whose = json.loads(packed.read("workshop.json"))
    assert (whose["format"], whose["workshop"]["uid"]) == ("keencoat-workshop", str(shop.uid))
    assert shop.members.get().user.password not in packed.read("workshop.json").decode()
    rows = {kind.name: json.loads(packed.read(f"rows/{kind.name}.json")) for kind in KINDS}
    ids = {kind.model: {row["id"] for row in rows[kind.name]} for kind in KINDS}
    for kind in KINDS:
        found = {r.pk: r for r in kind.model.objects.all() if r.pk in ids[kind.model]}
        assert len(found) == len(rows[kind.name])
        for row in rows[kind.name]:
            for field in kind.model._meta.concrete_fields:
                if isinstance(field, ForeignKey) and field.related_model in ids and row[field.attname] is not None:
                    assert row[field.attname] in ids[field.related_model]
                if isinstance(field, BinaryField) and row[field.name] is not None:
                    assert packed.read(row[field.name]) == bytes(getattr(found[row["id"]], field.name))
                    names.discard(row[field.name])
    assert {len(rows[name]) > 0 for name in ("jobs", "cells", "locked-settings", "coat-photos", "batches", "days")} == {
        True
    }
    # Nothing lies in it that no row names.
    assert not [name for name in names if name.startswith("pictures/")]
    assert {row["name"] for row in rows["jobs"]}.isdisjoint({j.name for j in other.shop.jobs.all()})
    assert len(read_cards(packed.read("setting-cards.json"))) == 2
    table = list(csv.DictReader(io.StringIO(packed.read("burns.csv").decode())))
    assert len(table) == client.get("/api/logged-burns").json()["total"]
    assert {row["kind"] for row in table} == {"grid", "batch", "run"}


def test_the_practice_bench_is_no_record_and_photos_come_as_they_were_brought(api):
    practised = rows_of(api)
    packed = archive_of(api.client)
    for kind, key in (("jobs", "job_id"), ("grids", "grid_id")):
        kept = {row["id"] for row in json.loads(packed.read(f"rows/{kind}.json"))}
        assert kept
        assert practised[key] not in kept
    # Another workshop sees none of it; nobody does who has not signed in.
    strange = archive_of(Api("orangery").client)
    assert [json.loads(strange.read(f"rows/{kind.name}.json")) for kind in KINDS if kind.name == "jobs"] == [[]]
    api.client.logout()
    assert api.client.get("/api/workshop.zip").status_code == 401
