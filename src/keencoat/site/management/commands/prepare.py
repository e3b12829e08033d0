"""`manage prepare`: what must be done before serving."""

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.utils import timezone
from psycopg import connect, sql

from keencoat.jobs.demo import load_demo


class Command(BaseCommand):
    """Make the database if it is missing, migrate, collect static files, load the demo workshop once if wished."""

    help = "Make the database, migrate, collect static files, load the demo workshop once (KEENCOAT_DEMO=1)."

    def handle(self, *args: object, **options: object) -> None:
        """Do it all; every part is idempotent."""
        self._make_database()
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
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
