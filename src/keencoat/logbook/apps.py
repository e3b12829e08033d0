"""The logbook: everything that happened, searchable; it only grows."""

from django.apps import AppConfig


class LogbookConfig(AppConfig):
    """App of records."""

    name = "keencoat.logbook"
