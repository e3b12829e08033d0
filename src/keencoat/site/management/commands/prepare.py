"""`manage prepare`: what must be done before serving."""

from datetime import datetime, timedelta
from pathlib import Path

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone
from psycopg import connect, sql

from keencoat.jobs.demo import load_demo

_KEPT = timedelta(days=2)
"""How long a page that was opened before an update still finds the parts of its own build."""


def drop_old_builds(collected: Path, built: Path, now: datetime) -> None:
    """Delete what was collected longer ago than that and is no part of the front end any more; each build's files have
    names of their own, and a server looks through all of them when it starts."""
    for file in [f for f in collected.rglob("*") if f.is_file()]:
        own = file.with_suffix("") if file.suffix in {".gz", ".br"} else file
        if not (built / own.relative_to(collected)).exists() and file.stat().st_mtime < (now - _KEPT).timestamp():
            file.unlink()


class Command(BaseCommand):
    """Make the database if it is missing, migrate, collect static files, load the demo workshop once if wished."""

    help = "Make the database, migrate, collect static files, load the demo workshop once (KEENCOAT_DEMO=1)."

    def handle(self, *args: object, **options: object) -> None:
        """Do it all; every part is idempotent."""
        self._make_database()
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        drop_old_builds(Path(settings.STATIC_ROOT) / "app", Path(settings.WEB_DIST), timezone.now())
        if settings.DEMO and load_demo(timezone.now()):
            self.stdout.write("Loaded the demo workshop.")

    def _make_database(self) -> None:
        db = {key: str(value) for key, value in settings.DATABASES["default"].items()}
        with connect(
            host=db["HOST"],
            port=db["PORT"],
            user=db["USER"],
            password=db["PASSWORD"],
            dbname="postgres",
            autocommit=True,
        ) as connection:
            found = connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [db["NAME"]]).fetchone()
            if found is None:
                connection.execute(sql.SQL("CREATE DATABASE {}").format(sql.Identifier(db["NAME"])))
