"""`manage export_api PATH`: the API's description, from which the front end's types are made."""

import json
from argparse import ArgumentParser
from pathlib import Path

from django.core.management.base import BaseCommand

from keencoat.site.api import api


class Command(BaseCommand):
    """Write the OpenAPI description to a file."""

    help = "Write the OpenAPI description to a file."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take the file's path."""
        parser.add_argument("path", type=Path)

    def handle(self, *args: object, path: Path, **options: object) -> None:
        """Write it, in a stable order."""
        schema = api.get_openapi_schema(path_prefix="/api/")
        path.write_text(json.dumps(schema, indent=1, sort_keys=True, default=str) + "\n")
