"""Looking at a washed piece of a practice batch, straight on, by a window."""

from threading import Condition

import cv2
import numpy as np
from cachetools import LRUCache, cached

from keencoat.bench.camera import coded
from keencoat.core.errors import NotAllowedError
from keencoat.jobs.batch.services.moving import find_batch_piece
from keencoat.jobs.job.services import find_job
from keencoat.jobs.models import ArtworkBurn
from keencoat.jobs.practice.services import face_under, washed_piece
from keencoat.shop.models import Workshop
from keencoat.shop.soon import soon

_MOST_PX = 1400


def look_of_piece(workshop: Workshop, piece_id: int) -> bytes:
    """How a washed piece of a practice batch looks, as PNG. Raises NotAllowedError while it is not washed, NotYetError
    while it is worked out."""
    piece = find_batch_piece(workshop, piece_id)
    if piece.burn is None or piece.state not in ("washed", "looked"):
        raise NotAllowedError(f"Piece {piece.number} is not washed.", field="state", hint="Burn it, cool it, wash it.")
    return soon(_seen, piece.burn.pk)


def _key(burn_id: int) -> int:
    return burn_id


@cached(LRUCache(40_000_000, len), key=_key, condition=Condition())
def _seen(burn_id: int) -> bytes:
    burn = ArtworkBurn.objects.select_related("made__job__workshop", "made__artwork").get(pk=burn_id)
    job = find_job(burn.made.job.workshop, burn.made.job_id)
    look = washed_piece(job, job.machine.to_core(), face_under(burn, job), burn).look()
    if job.is_seen_through:
        look = look[:, ::-1]
    share = min(1.0, _MOST_PX / max(look.shape[:2]))
    shown = cv2.resize(look, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
    pixels = (255 * coded(np.asarray(shown, dtype=np.float64)) + 0.5).astype(np.uint8)
    return bytes(cv2.imencode(".png", pixels[..., ::-1])[1])
