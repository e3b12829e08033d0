"""`manage work`: one worker process."""

import logging
import math
import os
import threading
import time

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import Error, close_old_connections
from django.utils import timezone

from keencoat.jobs.archive.bringing import mend_archives
from keencoat.jobs.artwork.services.burning import mend_art_burns
from keencoat.jobs.artwork.services.packing import mend_packs
from keencoat.jobs.artwork.services.photos import mend_art_photos
from keencoat.jobs.batch.services.photos import mend_piece_photos
from keencoat.jobs.grid.services.lost_burns import mend_burns
from keencoat.jobs.tasks import archive, art_burn, art_pack, burn
from keencoat.shop.once import forget_deeds

_LOG = logging.getLogger(__name__)
_LOOK_S = 2.0
_TIDY_S = 3600.0


class Command(BaseCommand):
    """Do what takes longer than a request, and look after what other workers left lying."""

    help = "Do what the queue holds; tell of burns whose worker is gone."

    def handle(self, *args: object, **options: object) -> None:
        """Work until told to stop. Ends at once when the queue cannot be reached: whoever keeps it starts it again."""
        threading.Thread(target=_look_after, daemon=True).start()
        try:
            call_command("procrastinate", "worker", "--concurrency", "4", "--shutdown-graceful-timeout", "1")
        except Exception:  # noqa: BLE001 – whatever felled it is told, and the process must end
            _LOG.exception("The worker fell")
            # Threads that still drive a laser would keep a worker alive that takes nothing new.
            os._exit(1)
        os._exit(0)


def _look_after() -> None:
    tidied = -math.inf
    while True:
        try:
            mend_burns(timezone.now(), burn.defer)
            mend_art_burns(timezone.now(), art_burn.defer)
            mend_art_photos(timezone.now())
            mend_piece_photos(timezone.now())
            mend_packs(timezone.now(), art_pack.defer)
            mend_archives(timezone.now(), archive.defer)
            if time.monotonic() - tidied > _TIDY_S:
                forget_deeds(timezone.now())
                tidied = time.monotonic()
        except Error as error:
            _LOG.warning("Cannot look after burns: %s", str(error).split("\n")[0])
            close_old_connections()
        time.sleep(_LOOK_S)
