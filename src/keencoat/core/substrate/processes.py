"""The seven processes: what each does, on what, under which layer, and what “clean” means in it."""

from dataclasses import dataclass

from keencoat.core.errors import require_known
from keencoat.core.quantities import BeamSource
from keencoat.core.sources import Cited, common_practice, own_estimate

BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2


@dataclass(frozen=True)
class Process:
    """A way to mark. The three sentences tell a maker how to rate; `defects` are keys of DEFECTS."""

    key: str
    label: str
    does: str
    substrates: tuple[str, ...]
    sources: tuple[BeamSource, ...]
    coats: tuple[str, ...]
    clean: str
    too_little: str
    too_much: str
    defects: tuple[str, ...]
    judge: str
    interval_mm: Cited[float]
    mirrored: bool = False


DEFECTS: dict[str, str] = {
    "coat_left": "coat left",
    "patchy": "patchy",
    "chips": "chips or cracks",
    "rough": "rough to the touch",
    "pinholes": "pinholes",
    "brown": "brown or charred",
    "brown_later": "went brown later",
    "peel": "coat peels beside the mark",
    "haze": "haze beside the mark",
    "residue": "sticky residue",
    "stripes": "stripes between lines",
    "streaks": "streaks of the brush",
    "detail_lost": "detail lost",
    "base_damaged": "base burnt through",
    "undercut": "edge undercut",
}

PROCESSES: dict[str, Process] = {
    p.key: p
    for p in (
        Process(
            "frost",
            "frost glass",
            "A dark layer heats and passes its heat to the glass, which frosts.",
            ("soda_lime_glass", "borosilicate_glass"),
            (BLUE, NIR, CO2),
            (
                "tempera_brushed",
                "tempera_sprayed",
                "matt_black_spray",
                "layout_dye",
                "black_card",
                "chalk",
                "marking_spray",
                "marking_sheet",
                "dish_soap",
            ),
            "even white frost, smooth to the touch",
            "faint, coat left",
            "chips, cracks, a rough feel, snapping while it runs",
            ("coat_left", "patchy", "chips", "rough", "stripes", "streaks", "detail_lost"),
            "Wash, dry, lay it on a dark ground; then a loupe and a fingertip.",
            common_practice(0.1),
        ),
        Process(
            "fuse",
            "fuse a mark into white glaze",
            "Titanium dioxide melts into the glaze and stays dark for good.",
            ("white_glazed_tile",),
            (BLUE, NIR, CO2),
            ("tio2_glue", "tio2_alcohol", "white_spray"),
            "dark, even, permanent; the white stays white",
            "grey, patchy",
            "all black, no white left, detail lost",
            ("coat_left", "patchy", "detail_lost", "chips", "rough", "stripes", "streaks"),
            "Rinse, soft brush, dry; look in plain daylight.",
            common_practice(0.1),
        ),
        Process(
            "reveal",
            "reveal the colour under a top coat",
            "The dark top coat burns away and the colour under it shows.",
            ("painted_tile",),
            (BLUE, NIR, CO2),
            ("colour_stack",),
            "top coat gone, base whole",
            "top coat left",
            "base burnt through",
            ("coat_left", "patchy", "base_damaged", "residue", "stripes", "streaks", "detail_lost"),
            "Wipe with a damp cloth, dry; look in plain daylight.",
            common_practice(0.085),
        ),
        Process(
            "back_engrave",
            "back-engrave clear acrylic",
            "A thin dark layer on the back lets light passing through melt a white mark.",
            ("clear_acrylic",),
            (BLUE,),
            ("tempera_thin", "tempera_brushed"),
            "bright even white, no specks",
            "dull",
            "pops, clear pinholes, brown; paint peels where the beam never went",
            (
                "coat_left",
                "patchy",
                "pinholes",
                "brown",
                "brown_later",
                "rough",
                "peel",
                "stripes",
                "streaks",
                "detail_lost",
            ),
            "Wash in lukewarm water, dry; look through it against a dark ground, edge-lit if you can.",
            common_practice(0.1),
            mirrored=True,
        ),
        Process(
            "protect",
            "engrave acrylic under a protecting film",
            "The film keeps debris from welding to the sheet beside the mark.",
            ("clear_acrylic",),
            (CO2,),
            ("dish_soap",),
            "crisp mark, no white haze beside it",
            "shallow, dull",
            "melted edges, debris welded beside the mark",
            ("patchy", "haze", "stripes", "detail_lost", "brown", "brown_later", "rough"),
            "Rinse, soft brush, dry; look along the surface against a lamp.",
            common_practice(0.1),
        ),
        Process(
            "ablate",
            "ablate powder coat for paint-fill",
            "The beam clears powder coat under a masking film down to bare metal.",
            ("powder_coated_steel",),
            (BLUE, NIR, CO2),
            ("powder_coat",),
            "bare metal, crisp edge",
            "coat left",
            "sticky residue of the film, scorched edges",
            ("coat_left", "patchy", "residue", "brown", "rough", "detail_lost", "stripes"),
            "Wipe with alcohol on a cloth away from the machine, dry; look under a loupe.",
            own_estimate(0.08),
        ),
        Process(
            "resist",
            "open a resist for etching",
            "The beam opens a painted resist down to bare metal; the bath does the rest.",
            ("brass", "mild_steel", "aluminium"),
            (BLUE, NIR),
            ("resist_spray",),
            "openings down to bare metal",
            "resist left",
            "edges undercut, fine webs lost",
            ("coat_left", "patchy", "undercut", "detail_lost", "stripes"),
            "Wipe dry; bare metal must shine under a loupe before it goes to the bath.",
            own_estimate(0.08),
        ),
    )
}


def find_process(key: str) -> Process:
    """The process of that key; raises UnknownNameError that lists the keys."""
    return PROCESSES[require_known(key, PROCESSES, "process")]
