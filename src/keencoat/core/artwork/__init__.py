"""Artwork made ready for a setting: pictures, drawings and names as dots, and what the dots become.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.artwork.advice import (
    engraved_findings,
    made_findings,
    names_findings,
    picture_findings,
    place_findings,
    setting_changed,
    text_findings,
)
from keencoat.core.artwork.brought import ArtKind, read_source, sketch_source, start_of
from keencoat.core.artwork.burned import Burned, BurnedShares, as_burned
from keencoat.core.artwork.compare import ArtShot, Likeness, read_art_shot
from keencoat.core.artwork.engraved import MadeStrokes, stroke_width_mm, strokes_as_burned, strokes_of
from keencoat.core.artwork.expected import expected_dots
from keencoat.core.artwork.faces import lay_on
from keencoat.core.artwork.film import film_at_dots
from keencoat.core.artwork.flaws import Doubled, Flaws, Patch, flaws_from
from keencoat.core.artwork.formats import area_svg, dots_png, greys_png, strokes_svg
from keencoat.core.artwork.laying import PX_PER_MM
from keencoat.core.artwork.lettering import Typeface, missing_letters, text_area, type_size_pt
from keencoat.core.artwork.limits import Detail, engraved_capital_mm, finest_detail
from keencoat.core.artwork.looks import LOOKS, ProcessLook, look_of
from keencoat.core.artwork.made import (
    Lines,
    MadeDots,
    Placement,
    Tones,
    dots_of_area,
    dots_of_picture,
    greys_of_picture,
    lines_of,
    off_room_mm,
    placed_area,
)
from keencoat.core.artwork.names import Name, NameList, SetName, read_names, require_all_set, set_names
from keencoat.core.artwork.other_ways import OtherWay, WayTime, other_ways
from keencoat.core.artwork.picture import Picture, decode_picture, for_screen
from keencoat.core.artwork.screen import Dots, Screen
from keencoat.core.artwork.spec import (
    ArtSpec,
    PieceArt,
    Source,
    art_of_piece,
    bled,
    capital_of_width,
    first_spec,
    height_per_width,
    ink_of_piece,
    is_engraved,
    largest_fill_mm,
    names_set,
    piece_count,
    piece_labels,
)
from keencoat.core.artwork.spread import DotModel
from keencoat.core.artwork.tone import Crop, ToneWork, toned
from keencoat.core.artwork.tone_curve import (
    SHARES,
    DotBelief,
    Look,
    ToneCurve,
    WedgeStep,
    calibrated_curve,
    predicted_curve,
    tells_a_curve,
)
from keencoat.core.artwork.words import Wording

__all__ = [
    "LOOKS",
    "PX_PER_MM",
    "SHARES",
    "ArtKind",
    "ArtShot",
    "ArtSpec",
    "Burned",
    "BurnedShares",
    "Crop",
    "Detail",
    "DotBelief",
    "DotModel",
    "Dots",
    "Doubled",
    "Flaws",
    "Likeness",
    "Lines",
    "Look",
    "MadeDots",
    "MadeStrokes",
    "Name",
    "NameList",
    "OtherWay",
    "Patch",
    "Picture",
    "PieceArt",
    "Placement",
    "ProcessLook",
    "Screen",
    "SetName",
    "Source",
    "ToneCurve",
    "ToneWork",
    "Tones",
    "Typeface",
    "WayTime",
    "WedgeStep",
    "Wording",
    "area_svg",
    "art_of_piece",
    "as_burned",
    "bled",
    "calibrated_curve",
    "capital_of_width",
    "decode_picture",
    "dots_of_area",
    "dots_of_picture",
    "dots_png",
    "engraved_capital_mm",
    "engraved_findings",
    "expected_dots",
    "film_at_dots",
    "finest_detail",
    "first_spec",
    "flaws_from",
    "for_screen",
    "greys_of_picture",
    "greys_png",
    "height_per_width",
    "ink_of_piece",
    "is_engraved",
    "largest_fill_mm",
    "lay_on",
    "lines_of",
    "look_of",
    "made_findings",
    "missing_letters",
    "names_findings",
    "names_set",
    "off_room_mm",
    "other_ways",
    "picture_findings",
    "piece_count",
    "piece_labels",
    "place_findings",
    "placed_area",
    "predicted_curve",
    "read_art_shot",
    "read_names",
    "read_source",
    "require_all_set",
    "set_names",
    "setting_changed",
    "sketch_source",
    "start_of",
    "stroke_width_mm",
    "strokes_as_burned",
    "strokes_of",
    "strokes_svg",
    "tells_a_curve",
    "text_area",
    "text_findings",
    "toned",
    "type_size_pt",
]
