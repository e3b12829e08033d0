"""Drawings by chance: everything that a drawing may hold and that is followed, in each other and at once."""

import numpy as np

PAINTS = ("#000", "black", "#020202", "rgb(3,2,1)", "#fff", "white", "hsl(120,20%,1%)", "#fdfeff")
"""Near black and white: what covers half a pixel must be as dark as half a pixel of ours."""
UNITS = (("mm", 1.0), ("cm", 0.1), ("in", 1 / 25.4), ("pt", 72 / 25.4), ("Q", 4.0), ("px", 96 / 25.4), ("", 96 / 25.4))
ASPECTS = ("xMidYMid meet", "xMinYMax meet", "xMaxYMin slice", "none", "xMidYMin slice", "")


class Chance:
    """One drawing, drawn by chance."""

    def __init__(self, rng: np.random.Generator) -> None:
        self._rng = rng
        self._defs: list[str] = []
        self._rules: list[str] = []
        self._count = 0

    def drawing(self) -> str:
        wide, high = self._rng.uniform(20, 90, 2)
        unit, factor = self._one(UNITS)
        view = self._numbers(4, -20, 20)
        if self._luck(0.8):
            view[2:] = self._numbers(2, 40, 160)
            box = f'viewBox="{_said(view)}" preserveAspectRatio="{self._one(ASPECTS)}"'
            size = float(view[2] + view[3]) / 2
            shift = (float(view[0]), float(view[1]))
        else:
            box, size, shift = "", float((wide + high) * 96 / 25.4 / 2), (0.0, 0.0)
        parts = "".join(self._part(size, 3) for _ in range(self._rng.integers(2, 5)))
        body = f'<g transform="translate({shift[0]:.3f} {shift[1]:.3f})">{parts}</g>'
        style = f"<style>{' '.join(self._rules)}</style>" if self._rules else ""
        return (
            '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
            f'width="{wide * factor:.4f}{unit}" height="{high * factor:.4f}{unit}" {box}>{style}'
            f"<defs>{''.join(self._defs)}</defs>{body}</svg>"
        )

    def _part(self, size: float, deep: int) -> str:
        kinds = [self._shape] * 5 + ([self._group, self._group, self._used, self._inner] if deep else [])
        return self._one(kinds)(size, deep)

    def _group(self, size: float, deep: int) -> str:
        inside = "".join(self._part(size, deep - 1) for _ in range(self._rng.integers(1, 4)))
        return f"<g{self._dress(size, shape=False)}{self._place(size)}>{inside}</g>"

    def _used(self, size: float, deep: int) -> str:
        name = self._name()
        x, y = self._numbers(2, -0.2, 0.4) * size
        if self._luck(0.5):
            view = [*self._numbers(2, -10, 10), *self._numbers(2, 0.3, 1) * size]
            inside = "".join(self._part(size, deep - 1) for _ in range(2))
            more = f' overflow="{self._one(("visible", "hidden"))}"' if self._luck(0.4) else ""
            self._defs.append(
                f'<symbol id="{name}" viewBox="{_said(view)}" preserveAspectRatio="{self._one(ASPECTS)}"{more}>'
                f"{inside}</symbol>"
            )
            given = (
                f' width="{size * self._rng.uniform(0.3, 0.8):.3f}" height="{size * self._rng.uniform(0.3, 0.8):.3f}"'
            )
        else:
            self._defs.append(self._shape(size, 0).replace("<", f'<g id="{name}"><', 1).replace("/>", "/></g>", 1))
            given = ""
        href = self._one(("href", "xlink:href"))
        # The judges disagree where a clip on a used symbol lies: resvg forgets the shift of the use.
        dress = self._dress(size, shape=False, clipped=not given)
        return f'<use {href}="#{name}" x="{x:.3f}" y="{y:.3f}"{given}{dress}{self._place(size)}/>'

    def _inner(self, size: float, deep: int) -> str:
        x, y, wide, high = (*self._numbers(2, 0, 0.4) * size, *self._numbers(2, 0.3, 0.8) * size)
        view = [*self._numbers(2, -10, 10), *self._numbers(2, 0.4, 1.2) * size]
        inside = "".join(self._part(size, deep - 1) for _ in range(2))
        box = f' viewBox="{_said(view)}" preserveAspectRatio="{self._one(ASPECTS)}"' if self._luck(0.7) else ""
        shown = ' overflow="visible"' if self._luck(0.2) else ""
        return f'<svg x="{x:.3f}" y="{y:.3f}" width="{wide:.3f}" height="{high:.3f}"{box}{shown}>{inside}</svg>'

    def _shape(self, size: float, deep: int) -> str:
        x, y, wide, high, third = self._numbers(5, 0.05, 0.7) * size
        dress = self._dress(size, shape=True) + self._place(size)
        kind = self._rng.integers(0, 7)
        if kind == 0:
            corners = f' rx="{wide * self._rng.uniform(0, 0.7):.3f}"' if self._luck(0.5) else ""
            return f'<rect x="{x:.3f}" y="{y:.3f}" width="{wide:.3f}" height="{high:.3f}"{corners}{dress}/>'
        if kind == 1:
            return f'<circle cx="{x:.3f}" cy="{y:.3f}" r="{wide / 2:.3f}"{dress}/>'
        if kind == 2:
            return f'<ellipse cx="{x:.3f}" cy="{y:.3f}" rx="{wide / 2:.3f}" ry="{high / 2:.3f}"{dress}/>'
        if kind == 3:
            return f'<line x1="{x:.3f}" y1="{y:.3f}" x2="{wide:.3f}" y2="{high:.3f}"{dress}/>'
        if kind == 4:
            points = " ".join(
                f"{a:.3f},{b:.3f}" for a, b in self._numbers((self._rng.integers(3, 8), 2), 0, 0.8) * size
            )
            return f'<{self._one(("polygon", "polyline"))} points="{points}"{dress}/>'
        curve = f"M{x:.3f} {y:.3f}C{wide:.3f} {high:.3f} {third:.3f} {x:.3f} {high:.3f} {y:.3f}"
        more = (
            f"S{y:.3f} {wide:.3f} {third:.3f} {third:.3f}Z",
            f"q{third / 2:.3f}-{high / 3:.3f} {wide / 3:.3f} {x / 2:.3f}t-{x / 3:.3f} {third / 2:.3f}z",
            f"A{wide / 2:.3f} {high / 2:.3f} {self._rng.uniform(0, 90):.1f} {self._rng.integers(0, 2)} "
            f"{self._rng.integers(0, 2)} {third:.3f} {wide:.3f}l{x / 3:.3f} {y / 4:.3f}H{third:.3f}V{x:.3f}z",
        )
        return f'<path d="{curve}{self._one(more)}"{dress}/>'

    def _dress(self, size: float, shape: bool, clipped: bool = True) -> str:
        """Paints and the like, as attributes, as a style, or by a sheet."""
        said: dict[str, str] = {}
        if self._luck(0.6):
            said["fill"] = self._one((*PAINTS, "none") if shape else PAINTS)
        if self._luck(0.3):
            said["fill-rule"] = "evenodd"
        if self._luck(0.45 if shape else 0.2):
            said["stroke"] = self._one(PAINTS)
            said["stroke-width"] = f"{size * self._rng.uniform(0.01, 0.06):.3f}"
            if self._luck(0.4):
                said["stroke-dasharray"] = _said(self._numbers(self._rng.integers(1, 5), 0.02, 0.12) * size)
                said["stroke-dashoffset"] = f"{size * self._rng.uniform(-0.1, 0.1):.3f}"
            said["stroke-linecap"] = self._one(("butt", "round", "square"))
            said["stroke-linejoin"] = self._one(("miter", "round", "bevel"))
            if self._luck(0.3):
                said["stroke-miterlimit"] = self._one(("1", "2", "10"))
        if self._luck(0.12):
            said[self._one(("opacity", "fill-opacity"))] = self._one(("0", "0.25", "0.8", "85%"))
        if self._luck(0.05):
            said[self._one(("display", "visibility"))] = self._one(("none", "hidden", "inline"))
        if clipped and self._luck(0.12):
            said["clip-path"] = f"url(#{self._clip(size)})"
        how = self._rng.integers(0, 3)
        if how == 0:
            return "".join(f' {name}="{value}"' for name, value in said.items())
        sheet = "; ".join(f"{name}: {value}" for name, value in said.items())
        if how == 1 or not said:
            return f' style="{sheet}"' if sheet else ""
        name = self._name()
        self._rules.append(f".{name} {{ {sheet} }}")
        return f' class="{name}"'

    def _clip(self, size: float) -> str:
        name = self._name()
        x, y, wide, high = (*self._numbers(2, 0, 0.3) * size, *self._numbers(2, 0.3, 0.8) * size)
        shapes = f'<rect x="{x:.3f}" y="{y:.3f}" width="{wide:.3f}" height="{high:.3f}"/>'
        if self._luck(0.5):
            rule = self._one(("nonzero", "evenodd"))
            shapes += (
                f'<path clip-rule="{rule}" d="M{x:.3f} {y:.3f}L{wide:.3f} {y:.3f} {x:.3f} {high:.3f} '
                f'{wide:.3f} {high:.3f}Z"{self._place(size)}/>'
            )
        self._defs.append(f'<clipPath id="{name}"{self._place(size) if self._luck(0.3) else ""}>{shapes}</clipPath>')
        return name

    def _place(self, size: float) -> str:
        """A list of none to three transforms."""
        steps = []
        for _ in range(self._rng.integers(0, 4) if self._luck(0.6) else 0):
            angle, a, b = self._rng.uniform(-80, 80), *self._numbers(2, -0.15, 0.25) * size
            across, up = self._numbers(2, 0.6, 1.4) * [self._one((1, 1, -1)), 1]
            steps.append(
                self._one(
                    (
                        f"rotate({angle:.2f} {size * 0.4:.2f} {size * 0.4:.2f})",
                        f"translate({a:.3f},{b:.3f})",
                        f"scale({abs(across):.3f} {up:.3f})",
                        f"translate({size / 2:.3f}) scale({across:.3f} 1) translate({-size / 2:.3f})",
                        f"skewX({angle / 3:.2f})",
                        f"skewY({angle / 4:.2f})",
                        f"matrix({across:.3f} {angle / 400:.4f} {-angle / 300:.4f} {up:.3f} {a:.3f} {b:.3f})",
                    )
                )
            )
        return f' transform="{" ".join(steps)}"' if steps else ""

    def _name(self) -> str:
        self._count += 1
        return f"n{self._count}"

    def _luck(self, share: float) -> bool:
        return bool(self._rng.random() < share)

    def _one(self, of):
        return of[self._rng.integers(0, len(of))]

    def _numbers(self, count, low: float, high: float) -> np.ndarray:
        return self._rng.uniform(low, high, count)


def _said(numbers) -> str:
    return " ".join(f"{number:.3f}" for number in numbers)
