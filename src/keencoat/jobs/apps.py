"""Jobs: from a blank piece to a locked setting."""

from django.apps import AppConfig


class JobsConfig(AppConfig):
    """App of jobs."""

    name = "keencoat.jobs"
