"""Takes the photos in this folder anew: python -m tests.kept.shoot. What is measured in them is kept beside them by
KEENCOAT_KEEP=1 pytest tests/core/test_kept_figures.py, and only by somebody who meant to change it."""

import io

import numpy as np
from PIL import Image

from keencoat.bench.coatshots import Lamp, ShotSetup, shoot_coat
from keencoat.bench.filmfield import CoatFault
from keencoat.bench.gridshots import Trouble, draw_pose
from keencoat.bench.plant.materials import draw_piece, hidden_material
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.core.grid.burning import BurnPlan
from keencoat.core.grid.design import LEGIBLE_SHARE, design_crossed, middle_setting
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import BeamSource
from keencoat.core.quantities.slice import Slice
from keencoat.core.substrate.processes import PROCESSES
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import prior_for
from tests.bench.burned import SIZE, run, shoot
from tests.core.conftest import make_machine
from tests.kept import HERE, Grid, laid_out

_LONGEST_PX = 1700
GRIDS = {
    "frost": (11, Trouble.NONE),
    "fuse": (12, Trouble.NONE),
    "back_engrave": (13, Trouble.NONE),
    "reveal": (14, Trouble.NONE),
}
COATS = {
    "cracked": (CoatFault.CRACKED, Lamp.BEHIND, False),
    "streaked": (CoatFault.STREAKED, Lamp.BEHIND, True),
    "pinholes": (CoatFault.PINHOLES, Lamp.BEHIND, False),
    "pooled": (CoatFault.POOLED, Lamp.FRONT, False),
    "touched": (CoatFault.TOUCHED, Lamp.FRONT, True),
    "jar": (CoatFault.STREAKED, Lamp.INSIDE, False),
}


def smaller(data: bytes) -> bytes:
    """The photo as a phone would hand it on."""
    image = Image.open(io.BytesIO(data)).convert("RGB")
    image.thumbnail((_LONGEST_PX, _LONGEST_PX))
    out = io.BytesIO()
    image.save(out, "JPEG", quality=82)
    return out.getvalue()


def shoot_grid(process: str, seed: int, trouble: Trouble) -> None:
    machine = make_machine(source=BeamSource.BLUE, spot_mm=0.09, max_speed_mm_s=300, accel_mm_s2=3000)
    on = Slice(machine, PROCESSES[process].interval_mm.value)
    band = next_band(fit_window((), prior_for(process, BeamSource.BLUE)))
    settings = [c.setting for c in design_crossed(on, band, 9).cells]
    kept = Grid(process, [(s.power_pct, s.speed_mm_s, s.interval_mm, s.passes) for s in settings])
    piece = FlatPiece(Shape.RECTANGLE, *SIZE, 4)
    mirrored = PROCESSES[process].mirrored
    program = run(kept.layout, piece, machine, BurnPlan(middle_setting(on, band, LEGIBLE_SHARE), mirrored=mirrored))
    material, rng = hidden_material(process, seed), np.random.default_rng(seed)
    burned = BurnedPiece(material, Sheet(*SIZE, False, 4), draw_piece(material, rng), 12.0, seed, 450.0)
    burned.expose(program.hatches, program.traces)
    (HERE / f"grid-{process}.jpg").write_bytes(smaller(shoot(burned, program, draw_pose(rng), seed, trouble)))
    (HERE / f"grid-{process}.settings.json").write_text(laid_out(kept.__dict__))


def shoot_a_coat(name: str, fault: CoatFault, lamp: Lamp, disc: bool) -> None:
    coat, film_um = ("white", 21.0) if lamp is Lamp.FRONT else ("black", 29.0)
    setup = ShotSetup(lamp, 90, 90 if disc else 70, disc, coat=coat, mean_film_um=film_um)
    (HERE / f"coat-{name}.jpg").write_bytes(smaller(shoot_coat(fault, setup, 60 + len(name)).coated))


if __name__ == "__main__":
    for key, (number, spoilt) in GRIDS.items():
        shoot_grid(key, number, spoilt)
    for key, asked in COATS.items():
        shoot_a_coat(key, *asked)
