"""Every finding that a check may come to, by its code: what programs may ask for, and what docs/findings.md lists."""

from enum import StrEnum


class FindingCode(StrEnum):
    """A code with what it says; the finding itself has the figures. Codes are kept in the database and in files: a new
    meaning gets a new code, and none is ever given another."""

    meaning: str

    def __new__(cls, code: str, meaning: str) -> "FindingCode":
        """A code that is its own text, with its meaning beside it."""
        made = str.__new__(cls, code)
        made._value_ = code
        made.meaning = meaning
        return made

    SUBSTRATE_REFUSED = "substrate-refused", "no beam on this material: it gives off what hurts"
    PROCESS_SUBSTRATE = "process-substrate", "this process is none for this material"
    PROCESS_BEAM = "process-beam", "this process does not work with this beam"
    NEEDS_COAT = "needs-coat", "the beam passes the bare material, or is thrown back by it"
    COAT_UNSUITED = "coat-unsuited", "this coat harms this material, or does nothing for this process and beam"

    DEW = "dew", "the piece is hardly warmer than the dew point"
    DAMP = "damp", "so humid that water-borne coats hardly dry"
    COLD = "cold", "too cold for most paints to form an even film"

    COAT_EVEN = "coat-even", "the photo shows an even film"
    COAT_UNEVEN = "coat-uneven", "the film varies, with no one place to blame"
    COAT_STREAKED = "coat-streaked", "the film varies across one direction"
    COAT_THIN_ALL = "coat-thin-all", "not dark enough, or so thin that the ground shows, all over"
    COAT_THIN_SPOT = "coat-thin-spot", "places with less than 70 % of the film"
    COAT_BARE = "coat-bare", "places touched or shed, nearly bare"
    COAT_POOLED = "coat-pooled", "places half as thick again, or more"
    COAT_PINHOLES = "coat-pinholes", "pinholes, each of which lets the beam through"
    COAT_CRACKED = "coat-cracked", "cracks, which let the beam through"
    COAT_SHINE = "coat-shine", "places where the glaze still looks through"
    COAT_BLIND = "coat-blind", "parts blacker than this photo can tell"
    COAT_HIDES = "coat-hides", "the coat hides its ground, so that its film cannot be read"
    COAT_UNTOLD = "coat-untold", "the photo has nothing to hold the light against: how even the film is cannot be told"

    REACH = "reach", "the machine reaches only part of the energies that the grid should span"
    BLIND_GRID = "blind-grid", "even steps of power and speed: many cells that tell the same"
    FEWER_CELLS = "fewer-cells", "the wished cells do not fit the coated area; the grid has fewer"
    SMALLER_CELLS = "smaller-cells", "cells of the usual size do not fit; these are smaller, and stay cooler"
    SECOND_SPARE = "second-spare", "the grid needs two spares"
    GRID_UNROLLED = "grid-unrolled", "the grid lies on a band of a round piece's wall"

    WALL_BARREL = "wall-barrel", "a round wall is wider or narrower between its ends than a straight one would be"
    GIRTH_OFF = "girth-off", "one measurement of a round wall disagrees with the others"
    NOT_AS_TOLD = "not-as-told", "what was measured is not what the piece is said to be"
    PLACING_STALE = "placing-stale", "what was told of the placing no longer fits the piece, or its artwork"
    POINT_OFF = "point-off", "a touched point does not lie on the circle of the others"
    CORNERS_SKEWED = "corners-skewed", "the touched corners of a sheet are not square"
    JIG_STRETCHED = "jig-stretched", "a jig's crosses were touched further apart, or closer, than it has them"
    JIG_TURNED = "jig-turned", "a jig lies turned so far that its crosses may have been touched in the wrong order"
    JIG_OFF_BED = "jig-off-bed", "a pocket of a jig lies past the bed"
    FRAME_OFF_BED = "frame-off-bed", "the frame would leave the bed"
    FRAME_OFF_COAT = "frame-off-coat", "the art would reach past the coat, or the piece"
    NOT_LEVEL = "not-level", "a taper that is not brought level runs out of focus along the mark"
    SEAM_IN_MARK = "seam-in-mark", "the wall's seam falls into the mark, or the mark meets itself"
    TURN_UNSURE = "turn-unsure", "how far the turning device turns is known so roughly that a seam shows"
    GLASS_TOUGHENED = "glass-toughened", "toughened glass may burst when it is marked"
    GLASS_LEAD = "glass-lead", "lead crystal gives off lead where it is marked"
    GLAZE_METALS = "glaze-metals", "a glaze or an on-glaze paint may hold lead or cadmium"
    ZINC_FUME = "zinc-fume", "galvanised steel gives off zinc fume"
    FOIL_REFLECTS = "foil-reflects", "a beam that goes through the piece comes back from foil under it"
    DEVICE_STRAINED = (
        "device-strained",
        "the machine cannot turn this piece as fast, or burn as strong, as the setting asks",
    )
    HEAD_TOO_NARROW = "head-too-narrow", "the art is wider than a fixed head can mark on this wall"

    ART_OFF_COAT = "art-off-coat", "the artwork reaches past the coat; what lies past it is not burned"
    ART_ONE_TONE = "art-one-tone", "this process shows one tone better than greys"
    ART_SEE_THROUGH = "art-see-through", "parts of the picture are see-through and stay unmarked"
    ART_COARSE = "art-coarse", "the picture has fewer points than the lines of this setting can show"
    ART_LARGE_FILL = "art-large-fill", "a fill is larger than any patch that the window was read on"
    ART_SMALL_LETTERS = "art-small-letters", "typed text is set smaller than this setting can show"
    ART_STROKES_UNTESTED = (
        "art-strokes-untested",
        "lines are drawn at the setting for filled art: none is locked for strokes",
    )
    ART_STROKES_SLOW = "art-strokes-slow", "lines are too short for the head to reach the speed of the setting"
    ART_LINE_LOST = "art-line-lost", "a single line does not mark at this setting"
    ART_SETTING_CHANGED = "art-setting-changed", "the artwork was taken for a setting that is no longer the locked one"
    ART_NO_FIT = "art-no-fit", "names that would be too small to read, or that the typeface cannot write"
    ART_NOT_ALL = "art-not-all", "the list has fewer names than the job has pieces, or more"
    ART_ENCODING = "art-encoding", "the list was not in UTF-8 and was read as Western European"

    PATCH_SHOCK = "patch-shock", "the hottest patch may stand so far above its surroundings that glass may crack"
    PATCH_SOFT = "patch-soft", "the sheet may soften at the hottest patch"
    PLATE_WARM = "plate-warm", "the whole piece warms: later cells start warmer than the first"

    DRIFT_MACHINE = "drift-machine", "the last run wants other energy: another machine, its lens, focus or beam"
    DRIFT_LOT = "drift-lot", "the last run wants other energy: another lot of coat"
    DRIFT_SEASON = "drift-season", "the last run wants other energy: months lie between"

    FIRST_FAILED = "first-failed", "the first piece of a batch that was looked at is not clean"
    BATCH_FAILS = "batch-fails", "more pieces of a batch fail than the window allows for"

    LINES_BENT = "lines-bent", "a line test's squared widths do not lie on a straight line over ln power"
    LINES_LOOSE = "lines-loose", "a line test's widths scatter widely"
    LINES_NARROW = "lines-narrow", "a line test's powers span less than a factor of two"
    FOCUS_FAINT = "focus-faint", "a focus ladder burned so faintly that lines are widest in focus, or nearly"
    FOCUS_OUTSIDE = "focus-outside", "the focus lies outside the heights that were burned"
    FOCUS_VAGUE = "focus-vague", "a focus ladder's widths hardly tell one height from another"
