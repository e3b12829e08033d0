"""Writes docs/catalogue.md: python -m tests.core.catalogue_page. A test compares the page with the code, so that no
figure changes without being seen."""

from dataclasses import astuple
from pathlib import Path

from keencoat.core.artwork.looks import LOOKS
from keencoat.core.coat import COATS
from keencoat.core.coat.ingredients import INGREDIENTS
from keencoat.core.coat.schools import DISAGREEMENTS
from keencoat.core.coat.tools import TOOLS
from keencoat.core.heat.properties import THERMAL
from keencoat.core.quantities import BeamSource
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.core.window.parameters import MEANING, P
from keencoat.core.window.priors import PRIORS, UNKNOWN

PAGE = Path(__file__).parents[2] / "docs/catalogue.md"


def figure(cited) -> str:
    """A figure with the key of its source; own estimates, the usual case, without."""
    if cited is None:
        return "–"
    value, source = (cited.value, cited.source) if hasattr(cited, "source") else (cited, "own-estimate")
    text = f"{value.low:g} / {value.plan:g} / {value.high:g}" if hasattr(value, "plan") else f"{value:g}"
    return text if source == "own-estimate" else f"{text} ({source})"


def table(head: str, rows) -> str:
    names = [n.strip() for n in head.split("|")]
    lines = [names, ["---"] * len(names), *rows]
    return "\n".join(f"| {' | '.join(line)} |" for line in lines)


def catalogue_page() -> str:
    """The page as the code has it."""
    tools = table(
        "tool | transfer | stays in it, ml | to set up, min | min/dm² | unevenness",
        [
            [t.key, *map(figure, (t.transfer, t.dead_ml, t.setup_min, t.minutes_per_dm2)), t.unevenness]
            for t in TOOLS.values()
        ],
    )
    ingredients = table(
        "ingredient | g/ml | pack, ml | price | share that stays | its g/ml | solid, g/ml | water | propellant",
        [
            [
                i.key,
                *map(
                    figure,
                    (i.density_g_ml, i.pack_ml, i.price, i.stays, i.stays_g_ml, i.solid_g_ml, i.water, i.propellant),
                ),
            ]
            for i in INGREDIENTS.values()
        ],
    )
    coats = table(
        "coat | parts | coats | between, min | before burning, min | µm each | volume solids | absorbs, 1/mm | crossed "
        "| touch-safe",
        [
            [
                c.key,
                " + ".join(f"{p.parts:g} {p.ingredient}" for p in c.parts),
                *map(
                    figure,
                    (c.coats, c.between_min, c.before_burn_min, c.dry_um_per_coat, c.volume_solids, c.absorbs_per_mm),
                ),
                "yes" if c.crossed else "no",
                "yes" if c.touch_safe else "no",
            ]
            for c in COATS.values()
        ],
    )
    processes = table(
        "process | on | by | through | seen from behind | line interval, mm | defects",
        [
            [
                p.key,
                *map(", ".join, (p.substrates, p.sources, p.coats)),
                "yes" if p.mirrored else "no",
                figure(p.interval_mm),
                ", ".join(p.defects),
            ]
            for p in PROCESSES.values()
        ],
    )
    beams = list(BeamSource)
    substrates = table(
        f"substrate | {' | '.join(f'keeps of {b}' for b in beams)} | {' | '.join(f'n at {b}' for b in beams)} "
        "| W/(m·K) | kg/m³ | J/(kg·K) | shock, K | soft, °C | gone, °C",
        [
            [
                s.key,
                *(figure(s.bare_absorptance.get(b)) for b in beams),
                *(figure(s.refractive_index.get(b)) for b in beams),
                *map(figure, astuple(THERMAL[s.key])),
            ]
            for s in SUBSTRATES.values()
            if not s.refused
        ],
    )
    lengths = table("beam | wavelength, nm", [[b, figure(b.wavelength_nm)] for b in beams])
    looks = table(
        "process | ground | mark | too much",
        [[key, *map(str, (look.ground, look.mark, look.harsh))] for key, look in LOOKS.items()],
    )
    schools = table(
        "question | way | coat | tool | coats (0: usual) | wait, min",
        [
            [d.key, s.label, s.coat, s.tool, figure(s.coats), figure(s.wait_min)]
            for d in DISAGREEMENTS
            for s in d.schools
        ],
    )
    centres = table(
        "process | beam | centre, J/mm² | ± ln | width, ln | slope | source",
        [
            [*pair, *map(figure, (w.centre_j_mm2, w.centre_sd_ln, w.width_ln, w.slope)), w.source]
            for pair, w in [*PRIORS.items(), (("any other", "any"), UNKNOWN)]
        ],
    )
    usual = zip(P, UNKNOWN.mean, UNKNOWN.sd, strict=True)
    believed = table(
        "of a window nothing is told of | mean | ± | what it is",
        [[p.name.lower().replace("_", " "), *map(figure, (mean, sd)), MEANING[p]] for p, mean, sd in usual],
    )
    return f"""# Figures of the catalogue

What the workshop's coats, tools and processes are reckoned with. Ranges are low / planned / high. A figure without a
source in brackets is our own estimate; sources stand in [sources.bib](sources.bib). This page is written from the code
(`python -m tests.core.catalogue_page`) and held against it by a test.

## Tools

{tools}

## Ingredients

{ingredients}

## Coats

{coats}

## Processes

{processes}

What the finished piece looks like, sRGB:

{looks}

Where makers disagree:

{schools}

## Where a window is expected

Before anything is burned: the middle of the clean band at 1 ms, for a usual spot ([window.md](window.md), Priors).

{centres}

{believed}

## Beams

{lengths}

## Substrates

What a clean, bare piece keeps of a beam: of clear ones 3 mm, of others the surface. The figures for heat are of
handbooks (`heat/properties.py`).

{substrates}

Refused: {", ".join(s.key for s in SUBSTRATES.values() if s.refused)}.
"""


if __name__ == "__main__":
    PAGE.write_text(catalogue_page())
