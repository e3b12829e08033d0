"""A label for the jar: what is in it, from when, and what to mind. 90 × 60 mm."""

import io

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, SimpleDocTemplate, Spacer

from keencoat.core.coat import coat_cautions
from keencoat.core.substrate import find_substrate
from keencoat.jobs.models import CoatLot, Job
from keencoat.jobs.paper import FIGURE, HEAD, SMALL, TEXT, text

_SIZE = (90 * mm, 60 * mm)
_EDGE = 4 * mm


def jar_label_pdf(job: Job, lot: CoatLot) -> bytes:
    """The label of a lot as PDF bytes."""
    amounts = ", ".join(f"{name} {ml:g} ml ({lot.amounts_g.get(name, 0):g} g)" for name, ml in lot.amounts_ml.items())
    cautions = coat_cautions(job.recipe(), job.brush(), find_substrate(job.substrate))
    minded = {"vapour": "Vapour burns: no spark.", "dust": "Dust: mask.", "skin": "Gloves."}
    warnings = " ".join(minded[c.code] for c in cautions if c.code in minded)
    story: list[Flowable] = [
        text(f"Lot {lot.code}: {job.recipe().label}", HEAD),
        text(f"mixed {lot.mixed_at:%Y-%m-%d %H:%M} UTC for {job.name}", SMALL),
        Spacer(0, 1.5 * mm),
        text(amounts or "as bought", FIGURE),
        Spacer(0, 1.5 * mm),
    ]
    if lot.note:
        story.append(text(lot.note, TEXT))
    story.append(text(f"Comes off with {job.recipe().removal}. {warnings} Label and data sheet come first.", SMALL))
    out = io.BytesIO()
    SimpleDocTemplate(
        out,
        pagesize=_SIZE,
        leftMargin=_EDGE,
        rightMargin=_EDGE,
        topMargin=_EDGE,
        bottomMargin=_EDGE,
        title=f"Lot {lot.code}",
        author="Keen Coat",
    ).build(story)
    return out.getvalue()
