"""Line tests and focus ladders of a machine."""

from datetime import datetime
from typing import Any

from django.http import HttpRequest, StreamingHttpResponse
from django.utils import timezone
from ninja import Router, Status
from pydantic import Field

from keencoat.core.toolpath import MeasuredOffset
from keencoat.core.window import MeasuredHeight, MeasuredLine
from keencoat.shop.access import find_one, workshop_of
from keencoat.shop.api import MachineOut
from keencoat.shop.fields import Asked, FindingOut, Key, RangeOut, Shown, sends
from keencoat.shop.models import Machine, SpotKind, SpotTest
from keencoat.shop.spot import corrections_of, keep_ladder, keep_lines, keep_stripes, stripes_gcode, take_spot

router = Router(tags=["shop"])


class LineIn(Asked):
    """A line: its power in per cent, and its width in µm."""

    power_pct: float
    width_um: float


class LinesIn(Asked):
    """Lines burned at one speed and rising power, with what they were burned into."""

    speed_mm_s: float
    process: Key = ""
    coat: Key = ""
    lines: list[LineIn] = Field(max_length=100)


class RungIn(Asked):
    """A line at a height of the head, mm, and its width in µm."""

    height_mm: float
    width_um: float


class LadderIn(Asked):
    """Lines burned at several heights."""

    rungs: list[RungIn] = Field(max_length=100)


class OffsetIn(Asked):
    """How far lines to and fro lie apart at a speed, mm."""

    speed_mm_s: float
    offset_mm: float


class StripesIn(Asked):
    """Stripes burned both ways at several speeds."""

    offsets: list[OffsetIn] = Field(max_length=100)


class SpotTestOut(Shown):
    """A kept measurement. Radius, threshold and spot come from lines, the height from a ladder, play and delay from
    stripes."""

    id: int
    machine_id: int
    kind: SpotKind
    at: datetime
    speed_mm_s: float | None
    process: str
    coat: str
    points: list[dict[str, float]]
    radius_um: RangeOut | None
    threshold_pct: RangeOut | None
    spot_mm: float | None
    r2: float | None
    height_mm: RangeOut | None
    width_um: float | None
    times_threshold: float | None
    play_mm: RangeOut | None
    delay_ms: RangeOut | None
    corrections_mm: list[float] = Field(description="what is typed in for each speed of a stripe test")
    findings: list[FindingOut]


class TakeSpotIn(Asked):
    """The machine's version that the spot is written over."""

    version: int


def show_spot_test(test: SpotTest) -> SpotTestOut:
    """A kept measurement."""
    said: dict[str, Any] = test.result
    return SpotTestOut(
        id=test.pk,
        machine_id=test.machine_id,
        kind=SpotKind(test.kind),
        at=test.at,
        speed_mm_s=test.speed_mm_s,
        process=test.process,
        coat=test.coat,
        points=test.points,
        radius_um=said.get("radius_um"),
        threshold_pct=said.get("threshold_pct"),
        spot_mm=said.get("spot_mm"),
        r2=said.get("r2"),
        height_mm=said.get("height_mm"),
        width_um=said.get("width_um"),
        times_threshold=said.get("times_threshold"),
        play_mm=said.get("play_mm"),
        delay_ms=said.get("delay_ms"),
        corrections_mm=corrections_of(test),
        findings=said["findings"],
    )


@router.get("/machines/{machine_id}/spot-tests", response=list[SpotTestOut])
def list_tests(request: HttpRequest, machine_id: int) -> list[SpotTestOut]:
    """A machine's line tests and focus ladders, the newest first."""
    machine = find_one(Machine.objects.filter(workshop=workshop_of(request)), "machine", pk=machine_id)
    return [show_spot_test(t) for t in machine.spot_tests.all()]


@router.post("/machines/{machine_id}/line-tests", response={201: SpotTestOut})
def add_lines(request: HttpRequest, machine_id: int, payload: LinesIn) -> Status[SpotTestOut]:
    """Read lines at rising power: spot radius and the power that just marks."""
    lines = [MeasuredLine(line.power_pct, line.width_um) for line in payload.lines]
    test = keep_lines(
        workshop_of(request), machine_id, lines, payload.speed_mm_s, payload.process, payload.coat, timezone.now()
    )
    return Status(201, show_spot_test(test))


@router.post("/machines/{machine_id}/focus-ladders", response={201: SpotTestOut})
def add_ladder(request: HttpRequest, machine_id: int, payload: LadderIn) -> Status[SpotTestOut]:
    """Read lines at several heights: where they are narrowest."""
    rungs = [MeasuredHeight(r.height_mm, r.width_um) for r in payload.rungs]
    return Status(201, show_spot_test(keep_ladder(workshop_of(request), machine_id, rungs, timezone.now())))


@router.get("/machines/{machine_id}/stripes.gcode", **sends("text/x-gcode"))
def stripes_file(request: HttpRequest, machine_id: int, power_pct: float, speed_mm_s: float) -> StreamingHttpResponse:
    """G-code of stripes burned both ways, around a setting that marks."""
    lines = stripes_gcode(workshop_of(request), machine_id, power_pct, speed_mm_s)
    headers = {"Content-Disposition": f'attachment; filename="keencoat-machine{machine_id}-stripes.gcode"'}
    return StreamingHttpResponse(lines, content_type="text/x-gcode; charset=utf-8", headers=headers)


@router.post("/machines/{machine_id}/stripe-tests", response={201: SpotTestOut})
def add_stripes(request: HttpRequest, machine_id: int, payload: StripesIn) -> Status[SpotTestOut]:
    """Read stripes at several speeds: play of the belt, and how late the beam comes on."""
    offsets = [MeasuredOffset(o.speed_mm_s, o.offset_mm) for o in payload.offsets]
    return Status(201, show_spot_test(keep_stripes(workshop_of(request), machine_id, offsets, timezone.now())))


@router.post("/spot-tests/{test_id}/take", response=MachineOut)
def take(request: HttpRequest, test_id: int, payload: TakeSpotIn) -> Machine:
    """Write the measured spot into the machine's record."""
    return take_spot(workshop_of(request), test_id, payload.version)
