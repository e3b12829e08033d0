"""What can be practised: pieces of an invented botanic garden, and the ways in which a hand may coat them."""

from dataclasses import dataclass

from keencoat.bench.filmfield import CoatFault


@dataclass(frozen=True)
class Scenario:
    """A piece to practise on; machine is blue or tube. Sizes in mm; a frustum is `width_mm` across at its foot and
    `narrow_mm` at its top."""

    key: str
    title: str
    words: str
    process: str
    substrate: str
    coat: str
    coats: int
    machine: str
    shape: str
    width_mm: float
    height_mm: float
    thickness_mm: float
    interval_mm: float = 0.1
    narrow_mm: float = 0.0


SCENARIOS: dict[str, Scenario] = {
    s.key: s
    for s in (
        Scenario("cloche", "Cloche labels", "Frost a name into float glass under black tempera.",
                 "frost", "soda_lime_glass", "tempera_brushed", 2, "blue", "rectangle", 110, 90, 4),
        Scenario("marker", "Trail markers", "Fuse a dark mark into white glazed tile.",
                 "fuse", "white_glazed_tile", "tio2_glue", 2, "blue", "rectangle", 98, 98, 6.5),
        Scenario("sign", "Light signs", "Back-engrave clear acrylic through a thin dark layer.",
                 "back_engrave", "clear_acrylic", "tempera_thin", 4, "blue", "rectangle", 120, 90, 5),
        Scenario("herb", "Colour tiles", "Take the dark top coat off and leave the colour under it whole.",
                 "reveal", "painted_tile", "colour_stack", 4, "blue", "rectangle", 98, 98, 6.5, 0.085),
        Scenario("plate", "Bed plates", "Clear powder coat down to bright steel.",
                 "ablate", "powder_coated_steel", "powder_coat", 1, "blue", "rectangle", 140, 80, 2, 0.08),
        Scenario("brass", "Etched keys", "Open a resist on brass for the bath.",
                 "resist", "brass", "resist_spray", 3, "blue", "rectangle", 90, 80, 0.6, 0.08),
        Scenario("drawer", "Seed drawers", "Engrave acrylic under a film of soap.",
                 "protect", "clear_acrylic", "dish_soap", 1, "tube", "rectangle", 110, 80, 4),
        Scenario("vial", "Seed vials", "Frost a name onto a narrow glass: turned in a chuck, or under a fixed head.",
                 "frost", "soda_lime_glass", "tempera_brushed", 2, "blue", "cylinder", 44, 90, 2.5),
        Scenario("lantern", "Tapered lanterns", "Frost a name level round a glass that narrows upwards.",
                 "frost", "soda_lime_glass", "tempera_brushed", 2, "blue", "frustum", 84, 110, 3, narrow_mm=66),
    )
}  # fmt: skip


@dataclass(frozen=True)
class Coating:
    """How the hand coats the practice pieces."""

    key: str
    label: str
    fault: CoatFault
    film_share: float


COATINGS: dict[str, Coating] = {
    c.key: c
    for c in (
        Coating("even", "evenly, as thick as meant", CoatFault.NONE, 1.0),
        Coating("thick", "evenly, half as thick again", CoatFault.NONE, 1.5),
        Coating("thin", "in a hurry, much too thin", CoatFault.THIN, 1.0),
        Coating("streaked", "with streaks of the brush", CoatFault.STREAKED, 1.0),
        Coating("pooled", "with a pool where it ran", CoatFault.POOLED, 1.0),
        Coating("cracked", "dried too fast, cracked", CoatFault.CRACKED, 1.0),
    )
}

MACHINES: dict[str, dict[str, str | float]] = {
    "blue": {
        "name": "Practice blue twelve",
        "source": "blue",
        "rated_w": 12.0,
        "spot_mm": 0.09,
        "min_speed_mm_s": 4.0,
        "max_speed_mm_s": 300.0,
        "min_power_pct": 2.0,
        "accel_mm_s2": 3000.0,
        "bed_x_mm": 400.0,
        "bed_y_mm": 380.0,
    },
    "tube": {
        "name": "Practice tube forty",
        "source": "co2",
        "rated_w": 40.0,
        "spot_mm": 0.12,
        "min_speed_mm_s": 8.0,
        "max_speed_mm_s": 450.0,
        "min_power_pct": 8.0,
        "accel_mm_s2": 6000.0,
        "bed_x_mm": 580.0,
        "bed_y_mm": 390.0,
    },
}
