"""A proof on paper: every piece of an artwork as it will look, true to scale where it fits."""

import io
from collections.abc import Callable

from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Spacer, Table, TableStyle

from keencoat.core.artwork import Burned, PieceArt
from keencoat.core.safety import DEFERENCE
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.files import all_pieces_of
from keencoat.jobs.artwork.services.making import ArtBase, burned_of, made_of, setting_for
from keencoat.jobs.artwork.services.views import Look, Way, whole_view
from keencoat.jobs.paper import SMALL, SOFT, STRONG, TEXT, TITLE, print_pages, text

_WIDE_MM = 174.0
_FEW = 4
_GAP_MM = 4.0
_PX_MM = 6.0


class PiecePicture(Flowable):
    """One piece as it will burn."""

    def __init__(self, art: PieceArt, base: ArtBase, share: float, burned: Burned) -> None:
        super().__init__()
        piece = base.piece
        self.width, self.height = piece.width_mm * mm * share, piece.height_mm * mm * share
        px = min(1200, max(64, round(max(piece.width_mm, piece.height_mm) * share * _PX_MM)))
        self.data = whole_view(art, base, Look(Way.BURNED, px), burned)

    def draw(self) -> None:
        """Draw it with a hairline round it."""
        self.canv.drawImage(ImageReader(io.BytesIO(self.data)), 0, 0, self.width, self.height)
        self.canv.setStrokeColor(SOFT)
        self.canv.setLineWidth(0.25)
        self.canv.rect(0, 0, self.width, self.height)


def proof_pdf(artwork: Artwork, base: ArtBase, tell: Callable[[int], None]) -> bytes:
    """The proof as PDF bytes, A4: pieces side by side, each with what it is called, and those that are left out. `tell`
    is told before each how many are done."""
    count = all_pieces_of(artwork)
    wide = base.piece.width_mm
    # A long list is read for its letters: two side by side at least, if smaller.
    least = 2 if count > _FEW else 1
    share = min(1.0, ((_WIDE_MM + _GAP_MM) / least - _GAP_MM) / wide)
    columns = max(least, min(count, int((_WIDE_MM + _GAP_MM) // (wide * share + _GAP_MM))))
    scale = "true to scale" if share == 1 else f"at {100 * share:.0f} % of its size"
    shown: list[list[object]] = []
    lost: list[tuple[int, PieceArt]] = []
    for piece in range(count):
        tell(piece)
        art, n = made_of(artwork, base, piece), piece + 1
        if art.made is None:
            lost.append((n, art))
            continue
        picture = PiecePicture(art, base, share, burned_of(artwork, base, piece))
        shown.append([picture, text(f"{n}  {art.label}" if art.label else f"{n}", SMALL)])
    s = setting_for(artwork, base)
    said = f"{s.power_pct:g} %, {s.speed_mm_s:g} mm/s, lines {s.interval_mm:g} mm, {s.passes} pass"
    story: list[Flowable] = [
        text(f"{artwork.job.name}: {artwork.name}", TITLE),
        text(f"Proof of version {artwork.version}, setting version {base.key[1]} ({said}); drawn {scale}", SMALL),
        text("As it is expected to look, by a model: a prediction, not a promise.", SMALL),
        Spacer(0, 3 * mm),
    ]
    rows = [shown[i : i + columns] for i in range(0, len(shown), columns)]
    if rows:
        rows[-1] += [[""]] * (columns - len(rows[-1]))
        table = Table(rows, colWidths=[(wide * share + _GAP_MM) * mm] * columns, hAlign="LEFT")
        table.setStyle(TableStyle([("LEFTPADDING", (0, 0), (-1, -1), 0), ("VALIGN", (0, 0), (-1, -1), "TOP")]))
        story.append(table)
    if lost:
        story.append(text("Left out", STRONG))
        story += [text(f"{n}  {art.label}: {art.why}", TEXT) for n, art in lost]
    story += [Spacer(0, 3 * mm), text(DEFERENCE, SMALL)]
    title = f"{artwork.job.name}: {artwork.name}, version {artwork.version}"
    return print_pages(title, title, story)
